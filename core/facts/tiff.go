package facts

import (
	"encoding/binary"
	"fmt"
	"io"
)

// mostPages is how many pictures of a TIFF are counted.
const mostPages = 1000

// tiffHead is the head of a TIFF: the order of bytes, 42, and where the first directory is (TIFF 6.0,
// section 2, memory).
const tiffHead = 8

// reducedOnly marks, in the tag NewSubfileType, a directory that holds a smaller copy of another
// one's picture (TIFF 6.0, section 8, memory).
const (
	newSubfileType = 254
	reducedOnly    = 1
)

// tiffPages are where the directories of a TIFF are that each have a picture of their own.
func tiffPages(r io.ReadSeeker) (pages []uint32) {
	head := make([]byte, tiffHead)
	if _, err := r.Seek(0, io.SeekStart); err != nil {
		return nil
	}
	if _, err := io.ReadFull(r, head); err != nil {
		return nil
	}
	order := tiffOrder(head)
	seen := map[uint32]bool{}
	for at := order.Uint32(head[4:]); at != 0 && !seen[at] && len(pages) < mostPages; {
		seen[at] = true
		next, reduced, err := tiffDirectory(r, order, at)
		if err != nil {
			break
		}
		if !reduced {
			pages = append(pages, at)
		}
		at = next
	}
	return pages
}

func tiffOrder(head []byte) binary.ByteOrder {
	if head[0] == 'M' {
		return be
	}
	return le
}

// tiffDirectory reads where the directory after one is, and whether that one holds a smaller copy.
func tiffDirectory(r io.ReadSeeker, order binary.ByteOrder, at uint32) (next uint32, reduced bool, err error) {
	if _, err := r.Seek(int64(at), io.SeekStart); err != nil {
		return 0, false, err
	}
	count := make([]byte, 2)
	if _, err := io.ReadFull(r, count); err != nil {
		return 0, false, err
	}
	rest := make([]byte, 12*int(order.Uint16(count))+4)
	if _, err := io.ReadFull(r, rest); err != nil {
		return 0, false, err
	}
	for len(rest) > 4 {
		if order.Uint16(rest) == newSubfileType {
			reduced = order.Uint32(rest[8:])&reducedOnly != 0
		}
		rest = rest[12:]
	}
	return order.Uint32(rest), reduced, nil
}

// TIFFPage returns a TIFF as if it began with another one of its pages, which are counted from 1 as in
// [Facts.Pages].
func TIFFPage(file io.ReadSeeker, page int) (io.ReadSeeker, error) {
	pages := tiffPages(file)
	if page < 1 || page > len(pages) {
		return nil, fmt.Errorf("there are %d pages in it, and no page %d", len(pages), page)
	}
	head := make([]byte, tiffHead)
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	if _, err := io.ReadFull(file, head); err != nil {
		return nil, err
	}
	tiffOrder(head).PutUint32(head[4:], pages[page-1])
	if _, err := file.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	return &headed{file, head, 0}, nil
}

// headed is a file with another head.
type headed struct {
	io.ReadSeeker
	head []byte
	at   int64
}

// Read reads on, from the other head and then from the file.
func (h *headed) Read(b []byte) (int, error) {
	n, err := h.ReadSeeker.Read(b)
	if h.at < int64(len(h.head)) {
		copy(b[:n], h.head[h.at:])
	}
	h.at += int64(n)
	return n, err
}

// Seek goes to a place of the file.
func (h *headed) Seek(offset int64, whence int) (int64, error) {
	at, err := h.ReadSeeker.Seek(offset, whence)
	if err == nil {
		h.at = at
	}
	return at, err
}
