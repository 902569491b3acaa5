package rounds

import (
	"errors"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"time"

	"mivlet/desk/mirror"
)

// tree is the live site as folders and files. A file is opened when somebody reads it.
type tree struct {
	site    *mirror.Site
	folders map[string][]fs.DirEntry
}

// treeOf lays out a site.
func treeOf(site *mirror.Site) tree {
	t := tree{site, map[string][]fs.DirEntry{".": nil}}
	for at, f := range site.Files {
		t.folder(path.Dir(at))
		t.folders[path.Dir(at)] = append(t.folders[path.Dir(at)], entry{path.Base(at), f.Bytes, false})
	}
	for _, all := range t.folders {
		slices.SortFunc(all, func(a, b fs.DirEntry) int { return strings.Compare(a.Name(), b.Name()) })
	}
	return t
}

// folder notes a folder and those above it.
func (t tree) folder(at string) {
	if _, known := t.folders[at]; known {
		return
	}
	t.folders[at] = nil
	t.folder(path.Dir(at))
	t.folders[path.Dir(at)] = append(t.folders[path.Dir(at)], entry{path.Base(at), 0, true})
}

// Open implements [fs.FS].
func (t tree) Open(name string) (fs.File, error) {
	if !fs.ValidPath(name) {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrInvalid}
	}
	if all, is := t.folders[name]; is {
		return &listed{entry{path.Base(name), 0, true}, all}, nil
	}
	f := t.site.Files[name]
	if f == nil {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return &file{entry: entry{path.Base(name), f.Bytes, false}, open: func() (io.ReadCloser, error) { return t.site.Open(f) }}, nil
}

// entry is a file or a folder in its own folder.
type entry struct {
	name   string
	bytes  int64
	folder bool
}

func (e entry) Name() string               { return e.name }
func (e entry) Size() int64                { return e.bytes }
func (e entry) IsDir() bool                { return e.folder }
func (e entry) ModTime() time.Time         { return time.Time{} }
func (e entry) Sys() any                   { return nil }
func (e entry) Type() fs.FileMode          { return e.Mode().Type() }
func (e entry) Info() (fs.FileInfo, error) { return e, nil }
func (e entry) Stat() (fs.FileInfo, error) { return e, nil }
func (e entry) Close() error               { return nil }

func (e entry) Mode() fs.FileMode {
	if e.folder {
		return fs.ModeDir | 0o555
	}
	return 0o444
}

// listed is a folder that is open.
type listed struct {
	entry
	left []fs.DirEntry
}

// Read tells that a folder has no bytes.
func (l *listed) Read([]byte) (int, error) {
	return 0, &fs.PathError{Op: "read", Path: l.name, Err: errors.New("it is a folder")}
}

// ReadDir implements [fs.ReadDirFile].
func (l *listed) ReadDir(n int) ([]fs.DirEntry, error) {
	if n <= 0 {
		n = len(l.left)
	} else if len(l.left) == 0 {
		return nil, io.EOF
	}
	n = min(n, len(l.left))
	all := l.left[:n]
	l.left = l.left[n:]
	return all, nil
}

// file is a file that is open.
type file struct {
	entry
	open func() (io.ReadCloser, error)
	from io.ReadCloser
}

// Read opens the file when it is read first.
func (f *file) Read(p []byte) (n int, err error) {
	if f.from == nil {
		if f.from, err = f.open(); err != nil {
			return 0, err
		}
	}
	return f.from.Read(p)
}

// Close closes what was opened.
func (f *file) Close() error {
	if f.from == nil {
		return nil
	}
	return f.from.Close()
}
