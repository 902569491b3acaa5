package mend

import (
	"archive/zip"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
)

// Folder is a sink that writes the mended site into a folder on disk, which is best empty.
type Folder struct {
	Files fs.FS // of the site as it was
	Into  *os.Root
}

// Put writes a file that was made.
func (f Folder) Put(at string, data []byte) error {
	out, err := f.create(at)
	if err != nil {
		return err
	}
	if _, err := out.Write(data); err != nil {
		out.Close()
		return err
	}
	return out.Close()
}

// Copy writes a file as it was.
func (f Folder) Copy(at string) error {
	in, err := f.Files.Open(at)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := f.create(at)
	if err != nil {
		return err
	}
	if _, err := io.Copy(out, in); err != nil {
		out.Close()
		return err
	}
	return out.Close()
}

func (f Folder) create(at string) (*os.File, error) {
	if dir := path.Dir(at); dir != "." {
		if err := f.Into.MkdirAll(filepath.FromSlash(dir), 0o755); err != nil {
			return nil, err
		}
	}
	return f.Into.OpenFile(filepath.FromSlash(at), os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o644)
}

// Archive is a sink that writes the mended site into a ZIP archive, which has to be closed at last.
type Archive struct {
	Files fs.FS // of the site as it was
	Into  *zip.Writer
}

// Put writes a file that was made. Pictures are not packed: there is nothing to be gained.
func (a Archive) Put(at string, data []byte) error {
	method := zip.Deflate
	switch path.Ext(at) {
	case ".jpg", ".jpeg", ".png", ".webp", ".avif", ".gif":
		method = zip.Store
	}
	out, err := a.Into.CreateHeader(&zip.FileHeader{Name: at, Method: method})
	if err == nil {
		_, err = out.Write(data)
	}
	return err
}

// Copy writes a file as it was.
func (a Archive) Copy(at string) error {
	in, err := a.Files.Open(at)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := a.Into.CreateHeader(&zip.FileHeader{Name: at, Method: zip.Deflate})
	if err == nil {
		_, err = io.Copy(out, in)
	}
	return err
}
