package survey

import (
	"bytes"
	"strconv"
	"strings"

	"golang.org/x/net/html"
)

// mark is an attribute that a page is read with, and that it does not have: where the tag begins.
const mark = "data-mivlet-tag"

// bytesStandForThemselves reports whether what makes up tags is the same bytes in an encoding as in ASCII,
// and is nothing else there. So it is in all that browsers know (Encoding Standard, 4) but these.
func bytesStandForThemselves(encoding string) bool {
	return !strings.HasPrefix(encoding, "utf-16") && encoding != "iso-2022-jp" && encoding != "replacement"
}

// marked is a page with each tag of a picture marked with its place. Reading makes a tree, which moves
// elements about and knows no places.
func marked(data []byte) []byte {
	var out bytes.Buffer
	z := html.NewTokenizer(bytes.NewReader(data))
	at := 0
	for {
		kind := z.Next()
		raw := z.Raw()
		if kind == html.ErrorToken {
			out.Write(data[at:]) // a tag that does not end
			return out.Bytes()
		}
		n := len("<img")
		if (kind == html.StartTagToken || kind == html.SelfClosingTagToken) && len(raw) > n && bytes.EqualFold(raw[:n], []byte("<img")) && strings.IndexByte(space5+"/>", raw[n]) >= 0 {
			out.Write(raw[:n])
			out.WriteString(" " + mark + "=" + strconv.Itoa(at) + " ")
			out.Write(raw[n:])
		} else {
			out.Write(raw)
		}
		if name, _ := z.TagName(); kind == html.StartTagToken && string(name) == "noscript" {
			z.NextIsNotRawText()
		}
		at += len(raw)
	}
}

// tagOf is where the tag of an element begins, as its mark says; -1 where it has none.
func tagOf(n *html.Node) int {
	if at, err := strconv.Atoi(attr(n, mark)); err == nil {
		return at
	}
	return -1
}
