package svg

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/encoding/htmlindex"
	encoded "golang.org/x/text/encoding/unicode"

	"mivlet/core/fit"
)

// Head is what a drawing says of itself.
type Head struct {
	Size        fit.Size // its own, in CSS pixels
	Title       string   // as its author wrote it for those who do not see it (SVG 2, 5.7)
	Description string
	CutOff      bool // the file ends before the drawing does
	Packed      bool // the file is compressed
	Differs     Differs
}

// Differs is what of a drawing is not drawn as its author sees it.
type Differs struct {
	Words   bool   `json:"words,omitempty"`   // its words are written in other letters
	Unknown string `json:"unknown,omitempty"` // characters that there are no letters for, each once
	Outside int    `json:"outside,omitempty"` // pictures in other files, which are not drawn
	Moves   bool   `json:"moves,omitempty"`   // it moves in a browser; its first moment is drawn
}

// most is how many characters of a title, or of those without letters, are kept.
const most = 2000

// ErrNoDrawing means that a file is no SVG.
var ErrNoDrawing = errors.New("no drawing begins in it")

// Read reads what a drawing says of itself (SVG 2, 8.2 and 8.9). It fails with [ErrNoDrawing], with
// [ErrDrawing], or where r does.
func Read(r io.Reader) (Head, error) {
	file, err := io.ReadAll(io.LimitReader(r, maxBytes+1))
	if err != nil {
		return Head{}, err
	}
	text, err := asUTF8(file)
	if err != nil {
		return Head{}, err
	}
	tag, err := rootOf(text)
	if err != nil {
		return Head{}, err
	}
	h := Head{Size: tag.size(), Packed: Packed(file)}
	w := walk{head: &h}
	d := decoder(text)
	for {
		token, err := d.RawToken()
		var broken *xml.SyntaxError
		switch {
		case err == io.EOF:
			h.CutOff = len(w.within) > 0
			return h, nil
		case errors.As(err, &broken) && strings.Contains(broken.Msg, "unexpected EOF"):
			h.CutOff = true
			return h, nil
		case err != nil:
			return h, fmt.Errorf("%w: %v", ErrDrawing, err)
		}
		w.on(token)
	}
}

// walk is a walk through a drawing.
type walk struct {
	head   *Head
	within []string // the elements that it is in, the outermost first
	words  int      // how many of them are words
}

func (w *walk) on(token xml.Token) {
	differs := &w.head.Differs
	switch t := token.(type) {
	case xml.StartElement:
		name := t.Name.Local
		w.within = append(w.within, name)
		switch name {
		case "text":
			w.words++
			differs.Words = true
		case "image", "feImage":
			if at := linked(t); at != "" && !strings.HasPrefix(at, "data:") && !strings.HasPrefix(at, "#") {
				differs.Outside++
			}
		case "animate", "animateTransform", "animateMotion", "set":
			differs.Moves = true
		}
	case xml.EndElement:
		if n := len(w.within); n > 0 {
			if w.within[n-1] == "text" {
				w.words--
			}
			w.within = w.within[:n-1]
		}
	case xml.CharData:
		w.text(string(t))
	}
}

// text takes up what stands between tags.
func (w *walk) text(s string) {
	h := w.head
	if len(w.within) == 2 {
		into := map[string]*string{"title": &h.Title, "desc": &h.Description}[w.within[1]]
		if into != nil && *into == "" && len(s) <= most {
			*into = strings.Join(strings.Fields(s), " ")
		}
	}
	if w.words == 0 {
		return
	}
	for _, c := range s {
		if !unicode.IsSpace(c) && unicode.IsGraphic(c) && len(h.Differs.Unknown) < most && !strings.ContainsRune(h.Differs.Unknown, c) && !written(c) {
			h.Differs.Unknown += string(c)
		}
	}
}

// Begins reports whether a file that begins with head is a drawing, however much comes before its
// first tag.
func Begins(head []byte) bool {
	text, err := asUTF8(head)
	if err != nil {
		return false
	}
	_, err = rootOf(text)
	return err == nil
}

// linked is where an element points to.
func linked(t xml.StartElement) string {
	for _, a := range t.Attr {
		if a.Name.Local == "href" {
			return strings.TrimSpace(a.Value)
		}
	}
	return ""
}

func decoder(text []byte) *xml.Decoder {
	d := xml.NewDecoder(bytes.NewReader(text))
	d.Strict = false
	d.CharsetReader = func(_ string, r io.Reader) (io.Reader, error) { return r, nil } // it is UTF-8 by now
	return d
}

var declared = regexp.MustCompile(`^\s*<\?xml[^>]*?encoding\s*=\s*["']([A-Za-z0-9._-]+)["'][^>]*\?>`)
var declaration = regexp.MustCompile(`^\s*<\?xml[^>]*\?>`)

// asUTF8 is the text of a file, compressed or not, as its first bytes or its declaration say
// (XML 1.0, appendix F), without the declaration.
func asUTF8(file []byte) ([]byte, error) {
	file, err := unpacked(file)
	if err != nil {
		return nil, err
	}
	if len(file) > maxBytes {
		return nil, fmt.Errorf("%w: it has more than %d bytes", ErrDrawing, maxBytes)
	}
	switch {
	case bytes.HasPrefix(file, []byte{0xff, 0xfe}), bytes.HasPrefix(file, []byte{0xfe, 0xff}):
		file, err = encoded.UTF16(encoded.LittleEndian, encoded.UseBOM).NewDecoder().Bytes(file)
	default:
		file = bytes.TrimPrefix(file, []byte("\xef\xbb\xbf"))
		if m := declared.FindSubmatch(file); m != nil {
			if e, known := htmlindex.Get(string(m[1])); known == nil {
				file, err = e.NewDecoder().Bytes(file)
			}
		}
	}
	if err != nil {
		return nil, fmt.Errorf("%w: %v", ErrDrawing, err)
	}
	return bytes.TrimLeft(declaration.ReplaceAll(file, nil), " \t\r\n"), nil
}

// root is the first tag of a drawing.
type root struct {
	from, to int // where it stands in the text
	attrs    map[string]string
}

// rootOf finds the first tag, which has to be that of a drawing.
func rootOf(text []byte) (root, error) {
	d := decoder(text)
	for {
		from := int(d.InputOffset())
		token, err := d.RawToken()
		if err != nil {
			return root{}, ErrNoDrawing
		}
		t, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		if t.Name.Local != "svg" {
			return root{}, fmt.Errorf("%w: it is XML, and begins with %q", ErrNoDrawing, t.Name.Local)
		}
		r := root{from, int(d.InputOffset()), map[string]string{}}
		for _, a := range t.Attr {
			if a.Name.Space == "" {
				r.attrs[a.Name.Local] = a.Value
			}
		}
		return r, nil
	}
}

// size is that of the drawing: width and height, each else from the other and the proportions of
// the viewBox, else the viewBox's; without any, what a browser gives it (CSS 2.2, 10.3.2).
func (r root) size() fit.Size {
	w, h := pixels(r.attrs["width"]), pixels(r.attrs["height"])
	_, _, bw, bh, boxed := r.box()
	switch {
	case w > 0 && h > 0:
	case boxed && w > 0:
		h = w * bh / bw
	case boxed && h > 0:
		w = h * bw / bh
	case boxed:
		w, h = bw, bh
	default:
		if w == 0 {
			w = 300
		}
		if h == 0 {
			h = 150
		}
	}
	side := func(v float64) int { return int(math.Round(min(max(v, 1), 1e6))) }
	return fit.Size{W: side(w), H: side(h)}
}

// box is the viewBox.
func (r root) box() (x, y, w, h float64, ok bool) {
	f := strings.FieldsFunc(r.attrs["viewBox"], func(c rune) bool { return c == ',' || unicode.IsSpace(c) })
	if len(f) != 4 {
		return 0, 0, 0, 0, false
	}
	var v [4]float64
	for i := range v {
		var err error
		if v[i], err = strconv.ParseFloat(f[i], 64); err != nil || math.IsInf(v[i], 0) || math.IsNaN(v[i]) {
			return 0, 0, 0, 0, false
		}
	}
	return v[0], v[1], v[2], v[3], v[2] > 0 && v[3] > 0
}

// units are CSS's absolute lengths in CSS pixels (CSS Values 4, 6.2); em and ex as usual letters
// give them.
var units = map[string]float64{"": 1, "px": 1, "in": 96, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6, "pt": 96.0 / 72, "pc": 16, "em": 16, "rem": 16, "ex": 8}

var measure = regexp.MustCompile(`^\s*(\+?[0-9]*\.?[0-9]+(?:[eE][+-]?[0-9]+)?)\s*([A-Za-z]*)\s*$`)

// pixels reads a length in CSS pixels; what is none, or a share of what it stands in, gives 0.
func pixels(v string) float64 {
	m := measure.FindStringSubmatch(v)
	if m == nil {
		return 0
	}
	f, err := strconv.ParseFloat(m[1], 64)
	if err != nil || !(f > 0 && f < 1e6) {
		return 0
	}
	return f * units[strings.ToLower(m[2])]
}

var attribute = regexp.MustCompile(`\s([^\s=/>"']+)\s*=\s*("[^"]*"|'[^']*')`)

// sizedTo returns a drawing that says it has so many pixels, as UTF-8.
func sizedTo(file []byte, size fit.Size) ([]byte, error) {
	text, err := asUTF8(file)
	if err != nil {
		return nil, err
	}
	r, err := rootOf(text)
	if err != nil {
		return nil, err
	}
	own := r.size()
	_, _, bw, bh, boxed := r.box()
	given := fmt.Sprintf(` width="%d" height="%d"`, size.W, size.H)
	drop := []string{"width", "height"}
	if !boxed {
		given += fmt.Sprintf(` viewBox="0 0 %d %d"`, own.W, own.H)
		drop = append(drop, "viewBox")
	}
	// Where it fills its size but for what was rounded, it fills all of it, to the last pixel.
	if ratio := bw / max(bh, 1e-9) * float64(own.H) / float64(own.W); !boxed || math.Abs(ratio-1) < 0.01 {
		given += ` preserveAspectRatio="none"`
		drop = append(drop, "preserveAspectRatio")
	}
	tag := attribute.ReplaceAllFunc(text[r.from:r.to], func(a []byte) []byte {
		if m := attribute.FindSubmatch(a); slices.Contains(drop, string(m[1])) {
			return nil
		}
		return a
	})
	name := bytes.IndexFunc(tag, func(c rune) bool { return unicode.IsSpace(c) || c == '>' || c == '/' })
	if name < 0 {
		return nil, ErrNoDrawing
	}
	return slices.Concat(text[:r.from], tag[:name], []byte(given), tag[name:], text[r.to:]), nil
}
