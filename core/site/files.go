package site

import (
	"fmt"
	"path"
	"strings"
)

// index is the file that servers answer with where a folder is asked for (common practice).
const index = "index.html"

// PageFile returns the file that a page is kept in: a folder of its own, so that its address needs
// no ending. at is its path on the site, such as /touring/across-the-lake.
func PageFile(at string) string { return path.Join(strings.TrimPrefix(path.Clean("/"+at), "/"), index) }

// MarkedFile returns the file that a picture, style or script is kept in. mark stands for its
// content: the name carries it, unless it does already.
func MarkedFile(at, mark string) string {
	at = strings.TrimPrefix(path.Clean("/"+at), "/")
	ending := path.Ext(at)
	if strings.HasSuffix(strings.TrimSuffix(at, ending), "-"+mark) {
		return at
	}
	return strings.TrimSuffix(at, ending) + "-" + mark + ending
}

// FrameFile returns the file that holds what runs in a spot of one page.
func FrameFile(at string, page uint) string {
	return fmt.Sprintf("%s-on-%d.html", strings.TrimPrefix(path.Clean("/"+at), "/"), page)
}

// Safe reports whether a path may be written to: it stays in the folder that it is sent to, and no
// system takes a part of it for something else.
func Safe(file string) bool {
	if file == "" || len(file) > 1000 || path.IsAbs(file) || path.Clean(file) != file || strings.ContainsAny(file, "\\\x00:") {
		return false
	}
	for part := range strings.SplitSeq(file, "/") {
		if part == "." || part == ".." || len(part) > 200 {
			return false
		}
	}
	return true
}
