package survey

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/svg"
)

var pictureEndings = []string{".jpg", ".jpeg", ".jpe", ".jfif", ".png", ".gif", ".webp", ".avif", ".bmp", ".tif", ".tiff", ".heic", ".heif", ".svg", svg.PackedEnding}

// readHeads reads the heads of all pictures, two at a time.
func (s *Survey) readHeads(ctx context.Context, files fs.FS, read func()) error {
	bySize := map[int64][]*File{}
	all := s.files()
	each(ctx, all, func(f *File) {
		f.readHead(files)
		read()
	})
	for _, f := range all {
		if f.Picture() && f.Bytes > 0 {
			bySize[f.Bytes] = append(bySize[f.Bytes], f)
		}
	}
	var alike []*File
	for _, same := range bySize {
		if len(same) > 1 {
			alike = append(alike, same...)
		}
	}
	each(ctx, alike, func(f *File) { f.Hash = hashOf(files, f.Path) })
	return ctx.Err()
}

// each does something with all of some files, two at a time, until ctx ends.
func each(ctx context.Context, all []*File, do func(*File)) {
	next := make(chan *File)
	var both sync.WaitGroup
	for range 2 {
		both.Go(func() {
			for f := range next {
				do(f)
			}
		})
	}
	for _, f := range all {
		if ctx.Err() != nil {
			break
		}
		next <- f
	}
	close(next)
	both.Wait()
}

// newProgress counts, and tells of it.
func newProgress(tell func(read, all int), all int) func() {
	var mu sync.Mutex
	n := 0
	return func() {
		mu.Lock()
		defer mu.Unlock()
		n++
		if tell != nil {
			tell(n, all)
		}
	}
}

// readHead reads the head of a file, if it is a picture or says so.
func (f *File) readHead(files fs.FS) {
	named := slices.Contains(pictureEndings, strings.ToLower(path.Ext(f.Path)))
	in, err := files.Open(f.Path)
	if err != nil {
		if named {
			f.Fault = "it cannot be opened"
		}
		return
	}
	defer in.Close()
	seeking, ok := in.(io.ReadSeeker)
	if !ok { // of an archive
		head := make([]byte, 512)
		n, _ := io.ReadFull(in, head)
		mediaType, err := facts.MediaType(bytes.NewReader(head[:n]))
		if !named && (err != nil || !strings.HasPrefix(mediaType, "image/")) {
			return
		}
		if seeking, err = inMemory(io.MultiReader(bytes.NewReader(head[:n]), in)); err != nil {
			f.Fault = "it is damaged in the archive, or has more than 64 MB"
			return
		}
	}
	known, err := facts.Read(seeking)
	var other *facts.TypeError
	switch {
	case err == nil:
		f.Facts = &known
	case !named:
	case errors.Is(err, facts.ErrEmpty):
		f.Fault = "it is empty"
	case errors.As(err, &other):
		f.Fault = "it is no picture that browsers show"
	default:
		f.Fault = "it is damaged"
	}
}

// inMemory is a picture of an archive, which can only be read from its beginning on.
func inMemory(in io.Reader) (io.ReadSeeker, error) {
	data, err := io.ReadAll(io.LimitReader(in, largestPicture))
	if err == nil && len(data) == largestPicture {
		err = errors.New("it has more bytes than are read")
	}
	return bytes.NewReader(data), err
}

func hashOf(files fs.FS, at string) string {
	in, err := files.Open(at)
	if err != nil {
		return ""
	}
	defer in.Close()
	sum := sha256.New()
	if _, err := io.Copy(sum, in); err != nil {
		return ""
	}
	return hex.EncodeToString(sum.Sum(nil))
}
