package mend

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/charset"
	"golang.org/x/text/encoding"
)

// edit puts a text in the place of some bytes of a page.
type edit struct {
	from, to int // bytes; the second is not part of it
	text     []byte
}

// apply returns a page with edits, in whatever order they are. It fails where two are about the same bytes.
func apply(data []byte, edits []edit) ([]byte, error) {
	edits = slices.Clone(edits)
	slices.SortStableFunc(edits, func(a, b edit) int { return a.from - b.from })
	var out bytes.Buffer
	at := 0
	for _, e := range edits {
		if e.from < at || e.to < e.from || e.to > len(data) {
			return nil, fmt.Errorf("two changes meet at byte %d", e.from)
		}
		out.Write(data[at:e.from])
		out.Write(e.text)
		at = e.to
	}
	out.Write(data[at:])
	return out.Bytes(), nil
}

// attribute is one of a tag, with its place in the page.
type attribute struct {
	name     string // in small letters
	from, to int    // of all of it
	value    int    // where its value begins, after a quote; -1 where it has none
	end      int    // where its value ends, before a quote
	quote    byte   // 0 for none
}

// tag is a start tag in the bytes of a page.
type tag struct {
	from, to   int // the second is after its last sign
	afterName  int
	attributes []attribute
}

const space5 = " \t\n\f\r" // ASCII whitespace (Infra, 4.6)

func isSpace(c byte) bool { return strings.IndexByte(space5, c) >= 0 }

// tagAt reads the start tag that begins at a byte of a page (HTML, 13.2.5.6 to 13.2.5.40). ok is false where
// none does, or where it does not end.
func tagAt(data []byte, from int) (t tag, ok bool) {
	if from < 0 || from+1 >= len(data) || data[from] != '<' || data[from+1]|0x20 < 'a' || data[from+1]|0x20 > 'z' {
		return t, false
	}
	at := from + 1
	for at < len(data) && !isSpace(data[at]) && data[at] != '/' && data[at] != '>' {
		at++
	}
	t.from, t.afterName = from, at
	for {
		for at < len(data) && (isSpace(data[at]) || data[at] == '/') {
			at++
		}
		if at >= len(data) {
			return t, false
		}
		if data[at] == '>' {
			t.to = at + 1
			return t, true
		}
		a := attribute{from: at, value: -1}
		if data[at] == '=' { // it is part of the name there
			at++
		}
		for at < len(data) && !isSpace(data[at]) && strings.IndexByte("/>=", data[at]) < 0 {
			at++
		}
		a.name, a.to = strings.ToLower(string(data[a.from:at])), at
		next := at
		for next < len(data) && isSpace(data[next]) {
			next++
		}
		if next < len(data) && data[next] == '=' {
			if at = valueAt(data, next+1, &a); at < 0 {
				return t, false
			}
			a.to = at
		}
		t.attributes = append(t.attributes, a)
	}
}

// valueAt reads the value of an attribute after its equals sign, and returns what follows; -1 where it does
// not end.
func valueAt(data []byte, at int, a *attribute) int {
	for at < len(data) && isSpace(data[at]) {
		at++
	}
	if at >= len(data) {
		return -1
	}
	if q := data[at]; q == '"' || q == '\'' {
		n := bytes.IndexByte(data[at+1:], q)
		if n < 0 {
			return -1
		}
		a.value, a.end, a.quote = at+1, at+1+n, q
		return a.end + 1
	}
	a.value = at
	for at < len(data) && !isSpace(data[at]) && data[at] != '>' {
		at++
	}
	a.end = at
	return at
}

// find returns an attribute; browsers take the first of a name.
func (t tag) find(name string) (attribute, bool) {
	i := slices.IndexFunc(t.attributes, func(a attribute) bool { return a.name == name })
	if i < 0 {
		return attribute{}, false
	}
	return t.attributes[i], true
}

// page is a page that is changed.
type page struct {
	data    []byte
	written *encoding.Encoder // what it cannot write becomes a character reference
	decoder *encoding.Decoder
	edits   []edit
}

func newPage(data []byte, name string) *page {
	e, _ := charset.Lookup(name)
	if e == nil {
		e = encoding.Nop
	}
	return &page{data: data, written: encoding.HTMLEscapeUnsupported(e.NewEncoder()), decoder: e.NewDecoder()}
}

// says is what an attribute says, as a browser reads it.
func (p *page) says(a attribute) string {
	if a.value < 0 {
		return ""
	}
	raw := p.data[a.value:a.end]
	text, err := p.decoder.Bytes(raw)
	if err != nil {
		text = raw
	}
	return html.UnescapeString(string(text))
}

// text is a text as it stands in the page, between quotes.
func (p *page) text(text string, quote byte) []byte {
	text = strings.NewReplacer("&", "&amp;", string(quote), map[byte]string{'"': "&quot;", '\'': "&#39;"}[quote], "\x00", "").Replace(text)
	raw, err := p.written.Bytes([]byte(text))
	if err != nil {
		return []byte(text)
	}
	return raw
}

// set has tags say something. Where an attribute is there already, only its value changes; others come after
// the last one, in the order in which they are given.
func (p *page) set(t tag, all [][2]string) {
	last := t.afterName
	if n := len(t.attributes); n > 0 {
		// What follows an equals sign without a value would be taken for that.
		if a := t.attributes[n-1]; a.value < 0 || a.quote != 0 || a.end > a.value {
			last = a.to
		}
	}
	var added []byte
	for _, one := range all {
		a, there := t.find(one[0])
		switch {
		case !there:
			added = append(append(append(added, ' '), one[0]...), '=', '"')
			added = append(append(added, p.text(one[1], '"')...), '"')
		case a.value >= 0 && a.quote != 0:
			p.edits = append(p.edits, edit{a.value, a.end, p.text(one[1], a.quote)})
		default: // without quotes, or without a value
			whole := append([]byte(nil), p.data[a.from:a.from+len(a.name)]...)
			whole = append(append(append(whole, '=', '"'), p.text(one[1], '"')...), '"')
			p.edits = append(p.edits, edit{a.from, a.to, whole})
		}
	}
	if added != nil {
		p.edits = append(p.edits, edit{last, last, added})
	}
}
