package bucket

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"sync"

	"github.com/minio/minio-go/v7"

	"mivlet/store"
)

// file is a file that is open for reading. Read in order, it streams; read from anywhere, it is copied to this machine
// first.
type file struct {
	files *Files
	hash  string
	size  int64
	kind  string
	at    int64         // where the next Read begins
	body  io.ReadCloser // streams from at on; nil where that has to be asked for
	local struct {
		sync.Once
		*os.File
		err error
	}
}

// Open implements [store.Files].
func (f *Files) Open(hash string) (store.File, error) {
	if err := store.CheckHash(hash); err != nil {
		return nil, err
	}
	body, info, _, err := f.core.GetObject(context.Background(), f.bucket, f.object(hash), minio.GetObjectOptions{})
	if err != nil {
		return nil, plain(hash, err)
	}
	return &file{files: f, hash: hash, size: info.Size, kind: info.ContentType, body: body}, nil
}

// OpenRange implements [store.Files].
func (f *Files) OpenRange(hash string, offset, length int64) (io.ReadCloser, error) {
	info, err := f.Stat(hash)
	if err != nil {
		return nil, err
	}
	length, err = store.CheckRange(info.Size, offset, length)
	if err != nil {
		return nil, err
	}
	return f.from(hash, offset, length)
}

// from streams a part of a file that it has.
func (f *Files) from(hash string, offset, length int64) (io.ReadCloser, error) {
	if length == 0 {
		return io.NopCloser(io.LimitReader(nil, 0)), nil
	}
	var o minio.GetObjectOptions
	if err := o.SetRange(offset, offset+length-1); err != nil {
		return nil, err
	}
	body, _, _, err := f.core.GetObject(context.Background(), f.bucket, f.object(hash), o)
	return body, plain(hash, err)
}

// Size returns how many bytes the file has.
func (f *file) Size() int64 { return f.size }

// MediaType returns the media type that the file was kept with.
func (f *file) MediaType() string { return f.kind }

// Read implements [io.Reader].
func (f *file) Read(p []byte) (int, error) {
	if f.at >= f.size {
		return 0, io.EOF
	}
	if f.body == nil {
		var err error
		if f.body, err = f.files.from(f.hash, f.at, f.size-f.at); err != nil {
			return 0, err
		}
	}
	n, err := f.body.Read(p)
	f.at += int64(n)
	if errors.Is(err, io.EOF) && f.at < f.size {
		err = io.ErrUnexpectedEOF
	}
	return n, err
}

// Seek implements [io.Seeker].
func (f *file) Seek(offset int64, whence int) (int64, error) {
	switch whence {
	case io.SeekCurrent:
		offset += f.at
	case io.SeekEnd:
		offset += f.size
	}
	if offset < 0 {
		return 0, fmt.Errorf("%w: %d", store.ErrRange, offset)
	}
	if offset != f.at && f.body != nil {
		_ = f.body.Close()
		f.body = nil
	}
	f.at = offset
	return offset, nil
}

// ReadAt implements [io.ReaderAt].
func (f *file) ReadAt(p []byte, offset int64) (int, error) {
	f.local.Do(f.copyHere)
	if f.local.err != nil {
		return 0, f.local.err
	}
	return f.local.ReadAt(p, offset)
}

func (f *file) copyHere() {
	f.local.err = func() error {
		whole, err := f.files.from(f.hash, 0, f.size)
		if err != nil {
			return err
		}
		defer whole.Close()
		if f.local.File, err = os.CreateTemp(f.files.scratch, "read-*"); err != nil {
			return err
		}
		n, err := io.Copy(f.local.File, whole)
		if err == nil && n < f.size {
			err = io.ErrUnexpectedEOF
		}
		return err
	}()
}

// Close implements [io.Closer].
func (f *file) Close() error {
	var err error
	if f.body != nil {
		err = f.body.Close()
		f.body = nil
	}
	if f.local.File != nil {
		err = errors.Join(err, f.local.File.Close(), os.Remove(f.local.Name()))
		f.local.File = nil
	}
	return err
}
