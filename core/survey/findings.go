package survey

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"path"
	"slices"
	"strings"
	"unicode"

	"mivlet/core/facts"
	"mivlet/core/naming"
	"mivlet/core/words"
)

// Code names what is wrong. The interface says it; see package sentences. Of what is wrong with a
// description, the code is that of package words behind "alt-".
type Code string

// The codes, with their values.
const (
	Position      Code = "position-inside" // the file tells where it was taken
	Serial        Code = "serial-inside"   // the file tells the number of a camera or who owns it
	People        Code = "people-inside"   // [who is seen, as the file says]
	BrokenPicture Code = "broken-picture"  // [the address, a file that may be meant]
	BrokenLink    Code = "broken-link"     // [the address, a file that may be meant]
	Damaged       Code = "damaged"         // [why]
	NoAlt         Code = "alt-absent"      // no alt attribute at all
	FarTooLarge   Code = "far-too-large"   // [its width, the width that is needed]
	Enlarged      Code = "enlarged"        // [its width, the width that it is shown at]
	PhotoAsPNG    Code = "photo-as-png"
	Uncompressed  Code = "uncompressed" // a bitmap (BMP), whose pixels lie there as they are
	WrongEnding   Code = "wrong-ending" // [the ending, the one that it should have]
	SameContent   Code = "same-content" // [the path of the first]
	SameLook      Code = "same-look"    // [the path of the largest]
	Unused        Code = "unused"
	CameraName    Code = "camera-name"
	AwkwardName   Code = "awkward-name"
	NotSized      Code = "not-sized" // no width and height: what follows moves when it comes
	UnreadPage    Code = "unread-page"
	LayoutShift   Code = "layout-shift" // [how much, the width of the window]: measured alone

	// What only those find who look at pixels.
	Faces     Code = "faces"        // [how many]: nobody has noted that they may be seen
	Readable  Code = "readable"     // [kinds of what can be read]
	WeakVeil  Code = "weak-veil"    // [how many parts are covered by a mosaic]
	SoftVeil  Code = "soft-veil"    // [in how many places words are blurred]
	StillCopy Code = "stands-still" // [the path of the animation that it is of]
)

// Cost is what a finding costs.
type Cost struct {
	Bytes   int64   `json:"bytes"`             // that each visitor of a page gets for nothing, or that lie on the server for nothing
	Seconds float64 `json:"seconds"`           // that those take on a slow line
	Pages   int     `json:"pages"`             // on which it is so
	Private bool    `json:"private,omitempty"` // it tells of people
}

// Finding is one thing that is wrong.
type Finding struct {
	Code      Code        `json:"code"`
	Level     words.Level `json:"level"`
	Page      string      `json:"page,omitempty"`    // its path; empty where it is so wherever the file is
	Picture   string      `json:"picture,omitempty"` // the path of a file; empty where there is none
	Address   string      `json:"address,omitempty"` // as the page says it
	Values    []any       `json:"values,omitempty"`
	Technique string      `json:"technique,omitempty"` // of WCAG 2.2
	Times     int         `json:"times"`               // on the page; 1 where it is about no page
	Estimated bool        `json:"estimated,omitempty"` // it follows from widths that nobody measured
	Cost      Cost        `json:"cost"`
}

// UnmarshalJSON reads a finding as it was written: whole numbers among its values are whole again.
func (f *Finding) UnmarshalJSON(data []byte) error {
	type plain Finding
	if err := json.Unmarshal(data, (*plain)(f)); err != nil {
		return err
	}
	for i, v := range f.Values {
		if n, is := v.(float64); is && n == math.Trunc(n) && math.Abs(n) < 1<<53 {
			f.Values[i] = int(n)
		}
	}
	return nil
}

// Findings lists what is wrong, what costs most first: what tells of people, then what keeps visitors
// out, then what they wait for.
func (s *Survey) Findings() []Finding {
	var all []Finding
	for _, f := range s.files() {
		all = append(all, s.ofFile(f)...)
	}
	all = append(all, s.same()...)
	all = append(all, s.alike()...)
	all = append(all, s.stills()...)
	for _, p := range s.Pages {
		all = append(all, s.ofPage(p)...)
		all = append(all, p.shifts()...)
	}
	for b, m := range s.broken {
		f := Finding{Code: BrokenLink, Level: words.Warn, Page: b.page, Address: b.address, Values: []any{b.address, m.near}, Times: m.times, Cost: Cost{Pages: 1}}
		if b.picture {
			f.Code, f.Level = BrokenPicture, words.Stop
		}
		all = append(all, f)
	}
	for _, at := range s.unread {
		all = append(all, Finding{Code: UnreadPage, Level: words.Warn, Page: at, Cost: Cost{Pages: 1}})
	}
	for i := range all {
		all[i].Times = max(all[i].Times, 1)
	}
	slices.SortStableFunc(all, func(a, b Finding) int {
		return cmp.Or(cmp.Compare(truth(b.Cost.Private), truth(a.Cost.Private)), cmp.Compare(rank[a.Level], rank[b.Level]),
			cmp.Compare(b.Cost.Bytes*int64(max(b.Cost.Pages, 1)), a.Cost.Bytes*int64(max(a.Cost.Pages, 1))), cmp.Compare(b.Cost.Pages, a.Cost.Pages),
			cmp.Compare(a.Code, b.Code), cmp.Compare(a.Page, b.Page), cmp.Compare(a.Picture, b.Picture), cmp.Compare(a.Address, b.Address))
	})
	return all
}

var rank = map[words.Level]int{words.Stop: 0, words.Warn: 1, words.Hint: 2}

// files are all files in the order of their paths.
func (s *Survey) files() []*File {
	all := make([]*File, 0, len(s.Files))
	for _, f := range s.Files {
		all = append(all, f)
	}
	slices.SortFunc(all, func(a, b *File) int { return strings.Compare(a.Path, b.Path) })
	return all
}

// A picture counts as far too large, or as enlarged, where its width is that far from what is needed.
const (
	TooLarge   = 1.35     // times the pixels that the sharpest usual screen shows
	worthIt    = 20 << 10 // bytes that would be saved, at least
	stretched  = 1.05
	leastIcons = 48 // CSS pixels: what is smaller is no picture to look at
)

func (s *Survey) ofFile(f *File) (all []Finding) {
	add := func(code Code, level words.Level, c Cost, values ...any) {
		c.Pages = f.used
		all = append(all, Finding{Code: code, Level: level, Picture: f.Path, Values: values, Cost: c})
	}
	if f.Fault != "" {
		add(Damaged, words.Warn, Cost{}, f.Fault)
	}
	if f.used == 0 && !s.expected(f) {
		add(Unused, words.Hint, Cost{Bytes: f.Bytes})
	}
	if f.Facts == nil {
		return all
	}
	if f.Facts.Position {
		add(Position, words.Stop, Cost{Private: true})
	}
	if len(f.Facts.People) > 0 {
		add(People, words.Stop, Cost{Private: true}, words.Listed(f.Facts.People))
	}
	if f.Facts.Serial {
		add(Serial, words.Warn, Cost{Private: true})
	}
	s.ofPixels(f, add)
	s.weighs(f, &all)
	ending, is := strings.ToLower(path.Ext(f.Path)), f.Facts.Ending()
	if is != "" && !SameEnding(ending, is) {
		add(WrongEnding, words.Hint, Cost{}, ending, is)
	}
	base := strings.TrimSuffix(path.Base(f.Path), path.Ext(f.Path))
	switch {
	case naming.FromCamera(base):
		add(CameraName, words.Hint, Cost{})
	case strings.ContainsFunc(base, awkward):
		add(AwkwardName, words.Hint, Cost{})
	}
	return all
}

// awkward reports whether a character of a name has to be escaped in addresses (RFC 3986, 2.3).
func awkward(r rune) bool {
	return r > unicode.MaxASCII || !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune("-._~", r)
}

// SameEnding reports whether two endings, such as .jpg and .jpeg, are those of one type.
func SameEnding(a, b string) bool {
	plain := func(e string) string {
		switch e {
		case ".jpeg", ".jpe", ".jfif":
			return ".jpg"
		case ".tiff":
			return ".tif"
		case ".heif":
			return ".heic"
		}
		return e
	}
	return plain(a) == plain(b)
}

// weighs tells what a file costs by being larger than it is shown.
func (s *Survey) weighs(f *File, all *[]Finding) {
	own, need := f.Facts.Upright(), f.needs()
	if f.used == 0 || f.Facts.MediaType == "image/svg+xml" {
		return
	}
	wasted := f.Bytes - f.couldBe()
	if need > 0 && float64(own.W) > TooLarge*float64(need) && wasted >= worthIt {
		*all = append(*all, Finding{Code: FarTooLarge, Level: words.Warn, Picture: f.Path, Values: []any{own.W, need}, Estimated: f.estimated, Cost: f.costs(wasted)})
	}
	shown := need / Densest
	if f.alone && shown >= leastIcons && float64(own.W)*stretched < float64(shown) {
		*all = append(*all, Finding{Code: Enlarged, Level: words.Hint, Picture: f.Path, Values: []any{own.W, shown}, Estimated: f.estimated, Cost: f.costs(0)})
	}
	if IsPhotoAsPNG(*f.Facts) {
		*all = append(*all, Finding{Code: PhotoAsPNG, Level: words.Warn, Picture: f.Path, Cost: f.costs(f.Bytes * 4 / 5)})
	}
	if IsUncompressed(*f.Facts) {
		*all = append(*all, Finding{Code: Uncompressed, Level: words.Warn, Picture: f.Path, Cost: f.costs(f.Bytes * 4 / 5)})
	}
}

// IsUncompressed reports whether the pixels of a file lie there as they are.
func IsUncompressed(k facts.Facts) bool { return k.MediaType == "image/bmp" }

// IsUncompressedPhoto reports whether such a file has three bytes or more for each pixel, as photos do: with fewer its
// colours are counted.
func IsUncompressedPhoto(k facts.Facts) bool {
	return IsUncompressed(k) && 2*k.Bytes >= 5*int64(k.Stored.W)*int64(k.Stored.H)
}

// IsPhotoAsPNG reports whether a file is a photo that came as a PNG. It does not pack well so: more than a byte
// for each pixel tells it.
func IsPhotoAsPNG(k facts.Facts) bool {
	pixels := k.Stored.W * k.Stored.H
	return k.MediaType == "image/png" && !k.Alpha && pixels >= 100_000 && k.Bytes > int64(pixels)
}

// expected reports whether a file lies on a server though no page leads to it (common practice).
func (s *Survey) expected(f *File) bool {
	switch strings.ToLower(path.Base(f.Path)) {
	case "robots.txt", "sitemap.xml", "favicon.ico", "apple-touch-icon.png", "security.txt", "manifest.json", "site.webmanifest", "humans.txt", ".htaccess":
		return true
	}
	return strings.HasPrefix(f.Path, ".") || !f.Picture() && !toRead[strings.ToLower(path.Ext(f.Path))]
}

// toRead are endings of files that people put on a site to be read.
var toRead = map[string]bool{".pdf": true, ".doc": true, ".docx": true, ".odt": true, ".xls": true, ".xlsx": true, ".ods": true, ".ppt": true, ".pptx": true, ".zip": true, ".mp3": true, ".mp4": true, ".mov": true}

// same finds files with one content under several names. Those after the first are told.
func (s *Survey) same() (all []Finding) {
	first := map[string]string{}
	for _, f := range s.files() {
		if f.Hash == "" {
			continue
		}
		if other, known := first[f.Hash]; known {
			all = append(all, Finding{Code: SameContent, Level: words.Hint, Picture: f.Path, Values: []any{other}, Cost: f.costs(f.Bytes)})
			continue
		}
		first[f.Hash] = f.Path
	}
	return all
}

// technique are those of WCAG 2.2 that tell of the mistake or of the way out.
var technique = map[Code]string{
	NoAlt: "F65", "alt-missing": "F65", "alt-missing-link": "F89", "alt-decorative-link": "F89", "alt-placeholder": "F30", "alt-file-name": "F30",
	"alt-decorative-words": "F39", "alt-same-as-text": "H2", "alt-link": "H30",
}

func (s *Survey) ofPage(p *Page) (all []Finding) {
	said := map[string]Use{} // descriptions, and the first picture that has each
	checked := map[string][]words.Remark{}
	at := map[string]int{} // of findings, where each stands
	for _, u := range p.Uses {
		if u.Kind != Image {
			continue
		}
		add := func(code Code, level words.Level, values ...any) {
			key := fmt.Sprintf("%s %q %q", code, u.Address, values)
			if i, again := at[key]; again { // the same once more, such as a ball before each line
				all[i].Times++
				return
			}
			at[key] = len(all)
			all = append(all, Finding{Code: code, Level: level, Page: p.Path, Picture: u.File, Address: u.Address, Values: values, Technique: technique[code], Times: 1, Cost: Cost{Pages: 1}})
		}
		if !u.Sized && u.Visible() {
			add(NotSized, words.Hint)
		}
		if !u.HasAlt && !u.Hidden && u.Name == "" {
			add(NoAlt, words.Stop)
			continue
		}
		alt := cmp.Or(u.Alt, u.Name)
		about := words.Said{Alt: alt, Caption: u.Caption, Decorative: u.Hidden && u.Name == "", Reason: "the page says so", Links: u.Links, Language: p.Language}
		if first, again := said[alt]; again && first.Address != u.Address && !s.sameLook(first.File, u.File) {
			about.Others = []string{alt}
		} else if alt != "" && !again {
			said[alt] = u
		}
		key := fmt.Sprintf("%q %q %v %v %v", about.Alt, about.Caption, about.Decorative, about.Links, about.Others)
		remarks, known := checked[key]
		if !known {
			remarks = words.Check(about)
			checked[key] = remarks
		}
		for _, r := range remarks {
			add(Code("alt-"+string(r.Code)), r.Level, r.Values...)
		}
	}
	return all
}

// Visible reports whether it is shown in any window, as something to look at.
func (u Use) Visible() bool {
	for v, w := range u.Shown {
		if w >= leastIcons || w == 0 && u.own[v] {
			return true
		}
	}
	return false
}
