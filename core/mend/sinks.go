package mend

import (
	"archive/zip"
	"io"
	"io/fs"
	"path"
)

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
