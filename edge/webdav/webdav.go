// Package webdav sends files to a folder of a web server (RFC 4918).
package webdav

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"os"
	"path"
	"strings"
	"time"

	"github.com/studio-b12/gowebdav"

	"mivlet/internal/hosts"
)

// parts is the folder for files that are not whole yet.
const parts = ".mivlet-parts"

// patience is how long a server may take for one answer.
const patience = 2 * time.Minute

// Folder is a folder of a web server that files are sent to.
type Folder struct {
	client *gowebdav.Client
	n      int
	made   map[string]bool
}

// Open signs in at an address such as https://dav.example/site. Passwords go to servers with TLS
// only, or to this machine.
func Open(ctx context.Context, at, login, password string) (*Folder, error) {
	if _, err := hosts.Confidential(at); err != nil {
		return nil, err
	}
	f := &Folder{client: gowebdav.NewClient(strings.TrimRight(at, "/"), login, password), made: map[string]bool{}}
	f.client.SetTimeout(patience)
	f.client.SetTransport(transport{ctx})
	info, err := f.client.Stat("/")
	if err != nil {
		return nil, fmt.Errorf("%s: %w", at, plain(err))
	}
	if !info.IsDir() {
		return nil, fmt.Errorf("%s is no folder", at)
	}
	return f, f.sweep()
}

// transport ends requests when nobody waits any more.
type transport struct{ ctx context.Context }

func (t transport) RoundTrip(r *http.Request) (*http.Response, error) {
	return http.DefaultTransport.RoundTrip(r.WithContext(t.ctx))
}

// plain is an error in the words of [io/fs].
func plain(err error) error {
	if gowebdav.IsErrNotFound(err) {
		return fs.ErrNotExist
	}
	return err
}

// sweep takes away what was being written when sending was broken off.
func (f *Folder) sweep() error {
	if err := f.client.RemoveAll(parts); err != nil && !gowebdav.IsErrNotFound(err) {
		return err
	}
	return nil
}

// Put writes a file beside its place and moves it there once it is whole (RFC 4918, 9.9).
func (f *Folder) Put(ctx context.Context, file string, data io.Reader) (string, error) {
	for _, dir := range []string{parts, path.Dir(file)} {
		if dir != "." && !f.made[dir] {
			if err := f.client.MkdirAll(dir, 0o755); err != nil {
				return "", err
			}
			f.made[dir] = true
		}
	}
	f.n++
	part := fmt.Sprintf("%s/%d", parts, f.n)
	err := f.client.WriteStream(part, data, 0o644)
	if err == nil {
		err = f.client.Rename(part, file, true)
	}
	if err != nil {
		return "", errors.Join(err, plain(f.client.Remove(part)))
	}
	return f.Stamp(ctx, file)
}

// Stamp returns the entity tag of a file, or its size and the second of its last change.
func (f *Folder) Stamp(_ context.Context, file string) (string, error) {
	info, err := f.client.Stat(file)
	if err != nil {
		return "", plain(err)
	}
	return stampOf(info), nil
}

func stampOf(info os.FileInfo) string {
	if tagged, ok := info.(gowebdav.File); ok && tagged.ETag() != "" {
		return strings.TrimPrefix(tagged.ETag(), "W/") // for a second after a change servers call theirs weak
	}
	return fmt.Sprintf("%d %d", info.Size(), info.ModTime().Unix())
}

// Open opens a file for reading.
func (f *Folder) Open(_ context.Context, file string) (io.ReadCloser, error) {
	in, err := f.client.ReadStream(file)
	return in, plain(err)
}

// Remove takes a file away. The folders above it stay: a server removes them with all that is in
// them, also with what somebody else puts there at that moment.
func (f *Folder) Remove(_ context.Context, file string) error {
	if err := f.client.Remove(file); err != nil && !gowebdav.IsErrNotFound(err) {
		return err
	}
	return nil
}

// Close ends sending.
func (f *Folder) Close() error { return f.sweep() }
