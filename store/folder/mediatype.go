package folder

import (
	"errors"
	"io"
	"net/http"
	"os"

	"mivlet/store"
)

// typeSuffix ends the name of the note beside a file that tells its media type.
const typeSuffix = ".type"

// sniffed is how much of a content tells its media type (WHATWG, MIME Sniffing, 5.2: at
// most 1445 bytes are read; Go looks at 512).
const sniffed = 512

// sniff returns the media type that a content tells by itself.
func sniff(r io.ReaderAt) string {
	head := make([]byte, sniffed)
	n, err := r.ReadAt(head, 0)
	if err != nil && !errors.Is(err, io.EOF) {
		return ""
	}
	return http.DetectContentType(head[:n])
}

// noteType writes the media type of a file that comes in beside it, where it is known and
// the content does not tell it.
func (d *Files) noteType(in *store.Incoming, mediaType string) error {
	if mediaType == "" || mediaType == sniff(in) {
		return nil
	}
	f, err := os.CreateTemp(d.dir+string(os.PathSeparator)+incoming, "type-*")
	if err != nil {
		return err
	}
	_, err = f.WriteString(mediaType)
	if err = errors.Join(err, f.Sync(), f.Close()); err == nil {
		err = os.Rename(f.Name(), d.path(in.Hash)+typeSuffix)
	}
	if err != nil {
		_ = os.Remove(f.Name())
	}
	return err
}

// typeOf returns the media type of a file: what is noted beside it, or what it tells.
func typeOf(path string, r io.ReaderAt) string {
	noted, err := os.ReadFile(path + typeSuffix)
	if err == nil {
		return string(noted)
	}
	return sniff(r)
}

// dropType takes the note about a media type away, where there is one.
func dropType(path string) error {
	if err := os.Remove(path + typeSuffix); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}
