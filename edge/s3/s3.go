// Package s3 sends files to object storage that understands the S3 protocol. An object appears
// whole or not at all, and there are no folders: what looks like one is a part of its name.
package s3

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"mime"
	"net/http"
	"os"
	"path"
	"strings"
	"time"

	"github.com/minio/minio-go/v7"
	"github.com/minio/minio-go/v7/pkg/credentials"

	"mivlet/internal/hosts"
)

// held is how much of a file is held while it is sent. Of a larger one a copy lies on the disk
// meanwhile: its length has to be known before it is sent in one piece.
const held = 4 << 20

// patience is how long a server may take until it begins to answer.
const patience = 2 * time.Minute

// Storage is where objects are sent to.
type Storage struct {
	Address   string // such as https://s3.example
	Bucket    string
	Prefix    string // of all names, without a slash at its end; may be empty
	Key       string // that names the account
	SecretKey string
	Region    string // that signatures name; empty: the service is asked
}

// Bucket is a bucket that is open for sending.
type Bucket struct {
	client       *minio.Client
	name, prefix string
}

// Open signs in, and looks whether the bucket is there. Signatures go to servers with TLS only, or to
// this machine.
func Open(ctx context.Context, s Storage) (*Bucket, error) {
	u, err := hosts.Confidential(s.Address)
	if err != nil {
		return nil, err
	}
	if strings.Trim(u.Path, "/") != "" {
		return nil, fmt.Errorf("invalid address %q: the bucket does not belong into it", s.Address)
	}
	through := http.DefaultTransport.(*http.Transport).Clone()
	through.ResponseHeaderTimeout = patience
	client, err := minio.New(u.Host, &minio.Options{Creds: credentials.NewStaticV4(s.Key, s.SecretKey, ""), Secure: u.Scheme == "https", Region: s.Region, Transport: through})
	if err != nil {
		return nil, fmt.Errorf("invalid address %q: %w", s.Address, err)
	}
	b := &Bucket{client: client, name: s.Bucket}
	if s.Prefix != "" {
		b.prefix = s.Prefix + "/"
	}
	there, err := client.BucketExists(ctx, s.Bucket)
	if err == nil && !there {
		err = fs.ErrNotExist
	}
	if s.Region != "" && minio.ToErrorResponse(err).StatusCode == http.StatusBadRequest { // it does not say why
		err = fmt.Errorf("invalid region %q, or the service cannot read the request; without a region it is asked: %w", s.Region, err)
	}
	if err != nil {
		return nil, fmt.Errorf("bucket %s at %s: %w", s.Bucket, s.Address, err)
	}
	return b, nil
}

// plain is an error in the words of [io/fs].
func plain(err error) error {
	if code := minio.ToErrorResponse(err).Code; code == minio.NoSuchKey || code == "NotFound" {
		return fs.ErrNotExist
	}
	return err
}

// Put sends a file in one piece: others see all of it, or what was there.
func (b *Bucket) Put(ctx context.Context, file string, data io.Reader) (string, error) {
	whole, size, err := known(data)
	if err != nil {
		return "", err
	}
	defer whole.Close()
	as := minio.PutObjectOptions{ContentType: mediaType(file), DisableMultipart: true}
	if path.Ext(file) == ".html" {
		as.CacheControl = "no-cache" // a page that was taken off is not shown from a cache (RFC 9111, 5.2.2.4)
	}
	sent, err := b.client.PutObject(ctx, b.name, b.prefix+file, whole, size, as)
	if err != nil {
		return "", err
	}
	return stamp(sent.ETag, size), nil
}

// known returns data whose length is known.
func known(data io.Reader) (io.ReadCloser, int64, error) {
	first, err := io.ReadAll(io.LimitReader(data, held))
	if err != nil || len(first) < held {
		return io.NopCloser(bytes.NewReader(first)), int64(len(first)), err
	}
	part, err := os.CreateTemp("", "mivlet-sent-")
	if err != nil {
		return nil, 0, err
	}
	whole := deleted{part}
	size, err := io.Copy(part, io.MultiReader(bytes.NewReader(first), data))
	if err == nil {
		_, err = part.Seek(0, io.SeekStart)
	}
	if err != nil {
		return nil, 0, errors.Join(err, whole.Close())
	}
	return whole, size, nil
}

// deleted is a file that is deleted when it is closed.
type deleted struct{ *os.File }

func (d deleted) Close() error { return errors.Join(d.File.Close(), os.Remove(d.Name())) }

// mediaType is what browsers are told that a file is: there is no server that would know.
func mediaType(file string) string {
	switch path.Ext(file) {
	case ".avif": // the tables of old systems do not have them
		return "image/avif"
	case ".webp":
		return "image/webp"
	case "":
		return "text/plain; charset=utf-8" // what tells servers where pages have moved
	}
	if known := mime.TypeByExtension(path.Ext(file)); known != "" {
		return known
	}
	return "application/octet-stream"
}

func stamp(tag string, size int64) string { return fmt.Sprintf("%s %d", strings.Trim(tag, `"`), size) }

// Stamp returns the entity tag and the size of an object.
func (b *Bucket) Stamp(ctx context.Context, file string) (string, error) {
	is, err := b.client.StatObject(ctx, b.name, b.prefix+file, minio.StatObjectOptions{})
	if err != nil {
		return "", plain(err)
	}
	return stamp(is.ETag, is.Size), nil
}

// Stamps returns those of all objects, a thousand with each request.
func (b *Bucket) Stamps(ctx context.Context) (map[string]string, error) {
	all := map[string]string{}
	for is := range b.client.ListObjectsIter(ctx, b.name, minio.ListObjectsOptions{Prefix: b.prefix, Recursive: true}) {
		if is.Err != nil {
			return nil, is.Err
		}
		all[strings.TrimPrefix(is.Key, b.prefix)] = stamp(is.ETag, is.Size)
	}
	return all, ctx.Err()
}

// Open opens an object for reading.
func (b *Bucket) Open(ctx context.Context, file string) (io.ReadCloser, error) {
	in, err := b.client.GetObject(ctx, b.name, b.prefix+file, minio.GetObjectOptions{})
	if err != nil {
		return nil, plain(err)
	}
	if _, err := in.Stat(); err != nil { // only now is it asked for
		return nil, errors.Join(plain(err), in.Close())
	}
	return in, nil
}

// Remove takes an object away.
func (b *Bucket) Remove(ctx context.Context, file string) error {
	return b.client.RemoveObject(ctx, b.name, b.prefix+file, minio.RemoveObjectOptions{})
}

// Close ends sending.
func (b *Bucket) Close() error { return nil }
