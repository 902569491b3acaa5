// Package bucket keeps files in object storage that understands the S3 protocol, so that many programs can
// share them. An object appears whole or not at all; its name is its content's hash, below the prefix of the
// house:
//
//	paddle/files/ba7816bf…      the content, with its media type
//	paddle/sweeping/ba7816bf…   somebody is about to take that file away
//
// Two programs may keep and sweep the same content at the same moment: see keep and DeleteKeptBefore.
package bucket

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"strings"
	"time"

	"github.com/minio/minio-go/v7"
	"github.com/minio/minio-go/v7/pkg/credentials"

	"mivlet/internal/hosts"
	"mivlet/store"
)

// Storage is where objects are kept.
type Storage struct {
	Address   string // such as https://s3.example
	Bucket    string
	Prefix    string // of all names, without a slash at its end: that of the house
	Key       string // that names the account
	SecretKey string
	Region    string // that signatures name; empty: the service is asked
}

// Files are the files in a bucket. They implement [store.Files].
type Files struct {
	core    minio.Core
	bucket  string
	prefix  string
	scratch string // a folder of this machine, for what is on its way in, and for what is read from anywhere
}

var _ store.Files = (*Files)(nil)

const (
	// patience is how long the storage may take until it begins to answer.
	patience = 30 * time.Second
	// tries is how often something is asked that the storage could not answer.
	tries = 4
)

// Open opens the files of a house, and looks whether the bucket is there. scratch is a folder of this machine.
func Open(ctx context.Context, s Storage, scratch string) (*Files, error) {
	u, err := hosts.Confidential(s.Address)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(scratch, 0o700); err != nil {
		return nil, err
	}
	through := http.DefaultTransport.(*http.Transport).Clone()
	through.ResponseHeaderTimeout = patience
	through.MaxIdleConnsPerHost = 32
	client, err := minio.New(u.Host, &minio.Options{Creds: credentials.NewStaticV4(s.Key, s.SecretKey, ""), Secure: u.Scheme == "https", Region: s.Region, Transport: through, MaxRetries: tries})
	if err != nil {
		return nil, fmt.Errorf("invalid address %q: %w", s.Address, err)
	}
	f := &Files{core: minio.Core{Client: client}, bucket: s.Bucket, prefix: strings.Trim(s.Prefix, "/"), scratch: scratch}
	if f.prefix != "" {
		f.prefix += "/"
	}
	return f, f.Ready(ctx)
}

// Ready reports whether the bucket can be reached.
func (f *Files) Ready(ctx context.Context) error {
	there, err := f.core.BucketExists(ctx, f.bucket)
	if err != nil {
		return fmt.Errorf("the storage of the files: %w", away(err))
	}
	if !there {
		return fmt.Errorf("the storage of the files has no bucket %q", f.bucket)
	}
	return nil
}

const (
	filesFolder    = "files/"
	sweepingFolder = "sweeping/"
)

func (f *Files) object(hash string) string { return f.prefix + filesFolder + hash }
func (f *Files) marker(hash string) string { return f.prefix + sweepingFolder + hash }

// gone reports whether an error means that there is no such object.
func gone(err error) bool {
	said := minio.ToErrorResponse(err)
	return said.StatusCode == http.StatusNotFound && said.Code != minio.NoSuchBucket
}

// plain is an error in the words of [store.Files].
func plain(hash string, err error) error {
	if err != nil && gone(err) {
		return fmt.Errorf("%w: %s", store.ErrNoFile, hash)
	}
	return away(err)
}

// away tells errors apart that say that the storage cannot be reached.
func away(err error) error {
	var network net.Error
	if err != nil && !errors.Is(err, store.ErrAway) && (errors.As(err, &network) || errors.Is(err, io.ErrUnexpectedEOF) || minio.ToErrorResponse(err).StatusCode >= http.StatusInternalServerError) {
		return fmt.Errorf("%w: %w", store.ErrAway, err)
	}
	return err
}

// Receive implements [store.Files].
func (f *Files) Receive(r io.Reader) (*store.Incoming, error) {
	return store.ReceiveIn(f.scratch, r, f.keep)
}

// Put implements [store.Files].
func (f *Files) Put(r io.Reader, mediaType string) (string, error) {
	return store.PutReceived(f, r, mediaType)
}

// Stat implements [store.Files].
func (f *Files) Stat(hash string) (store.FileInfo, error) {
	if err := store.CheckHash(hash); err != nil {
		return store.FileInfo{}, err
	}
	info, err := f.stat(hash)
	if err != nil {
		return store.FileInfo{}, plain(hash, err)
	}
	return store.FileInfo{Hash: hash, Size: info.Size, KeptAt: keptAt(info), MediaType: func() string { return info.ContentType }}, nil
}

func (f *Files) stat(hash string) (minio.ObjectInfo, error) {
	return f.core.StatObject(context.Background(), f.bucket, f.object(hash), minio.StatObjectOptions{})
}

// keptAt is when an object was kept, or a little later: whole seconds are told (RFC 9110, 8.8.2).
func keptAt(info minio.ObjectInfo) time.Time {
	return info.LastModified.Truncate(time.Second).Add(time.Second - time.Nanosecond)
}

// Has implements [store.Files].
func (f *Files) Has(hash string) bool {
	_, err := f.Stat(hash)
	return err == nil
}

// List implements [store.Files].
func (f *Files) List(do func(store.FileInfo) error) error {
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	below := f.prefix + filesFolder
	for info := range f.core.ListObjectsIter(ctx, f.bucket, minio.ListObjectsOptions{Prefix: below, Recursive: true}) {
		if info.Err != nil {
			return away(info.Err)
		}
		hash := strings.TrimPrefix(info.Key, below)
		told := store.FileInfo{Hash: hash, Size: info.Size, KeptAt: keptAt(info), MediaType: func() string {
			whole, err := f.stat(hash)
			if err != nil {
				return ""
			}
			return whole.ContentType
		}}
		if err := do(told); err != nil {
			return err
		}
	}
	return nil
}

// Delete implements [store.Files].
func (f *Files) Delete(hash string) error {
	if store.CheckHash(hash) != nil {
		return nil
	}
	return away(f.core.RemoveObject(context.Background(), f.bucket, f.object(hash), minio.RemoveObjectOptions{}))
}

// DropBroken removes what a program that was killed has left in the scratch folder. No other program may use it.
func (f *Files) DropBroken() error {
	left, err := os.ReadDir(f.scratch)
	for _, e := range left {
		err = errors.Join(err, os.RemoveAll(f.scratch+string(os.PathSeparator)+e.Name()))
	}
	return err
}
