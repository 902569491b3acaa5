// Package tenyears makes a site as houses have them after ten years: pages of three ages, each written as
// people wrote pages then, and pictures with all that goes wrong. What is wrong is known, so that whoever
// looks through it can be judged by what they find.
//
// All of it follows from nothing but this source: two sites are the same to the byte. Its pictures are
// drawn, and its positions lie in the sea.
package tenyears

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// How much there is.
const (
	Pages    = 120
	Pictures = 400
)

// Fault is one thing that is wrong: at a page, with a picture, or both.
type Fault struct {
	What    string // in the words of this package
	Page    string // its path; empty where the file itself is wrong
	Picture string // its path, or the address that leads to nothing
}

// The words for what is wrong.
const (
	Position    = "position"     // inside of a file
	Serial      = "serial"       // number of a camera inside of a file
	TooLarge    = "too large"    // four times as wide as it is shown, or more
	Stretched   = "stretched"    // shown wider than it is
	NoAlt       = "no alt"       // no attribute
	UselessAlt  = "useless alt"  // a file name, or a word for any picture
	SilentLink  = "silent link"  // a link that is a picture without words
	PNGPhoto    = "PNG photo"    // a photo kept as PNG
	OtherEnding = "other ending" // a JPEG that is called .png
	Again       = "again"        // the content of another file
	Unused      = "unused"       // on no page
	Missing     = "missing"      // a picture that is not there
	DeadLink    = "dead link"
	CameraName  = "camera name"
	AwkwardName = "awkward name"
	Unsized     = "unsized" // no width and height on the page
)

// site is a site while it is written.
type site struct {
	keep            func(at string, data []byte) error
	pages, pictures int
	by              *rand.Rand
	stock           *stock
	faults          []Fault
	names           map[string]bool
	made            int
}

// Write writes the site into a folder, and returns what is wrong with it, in no order.
func Write(dir string) ([]Fault, error) {
	return Make(Pages, Pictures, func(at string, data []byte) error {
		to := filepath.Join(dir, filepath.FromSlash(at))
		if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil { //nolint:gosec // a site, which all may read
			return err
		}
		return os.WriteFile(to, data, 0o644) //nolint:gosec // a site, which all may read
	})
}

// Make makes such a site of some pages and about so many pictures, and has each file kept. It returns what is
// wrong with it, in no order.
func Make(pages, pictures int, keep func(at string, data []byte) error) ([]Fault, error) {
	s := &site{keep: keep, pages: pages, pictures: pictures, by: rand.New(rand.NewPCG(2016, 10)), names: map[string]bool{}}
	var err error
	if s.stock, err = newStock(); err != nil {
		return nil, err
	}
	if err := s.keep("styles/site.css", []byte(styles)); err != nil {
		return nil, err
	}
	var index strings.Builder
	for i := range pages {
		at, title, err := s.page(i)
		if err != nil {
			return nil, err
		}
		fmt.Fprintf(&index, "<li><a href=\"%s\">%s</a></li>\n", at, title)
	}
	if err := s.keep("index.html", []byte("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>All pages</title></head><body><ul>\n"+index.String()+"</ul></body></html>\n")); err != nil {
		return nil, err
	}
	for s.made < pictures { // what nobody shows any more
		p := s.picture("old", s.name(), sizes[s.by.IntN(len(sizes))])
		s.fault(Unused, "", p.path)
		if err := s.keep(p.path, p.data); err != nil {
			return nil, err
		}
	}
	return s.faults, nil
}

func (s *site) fault(what, page, picture string) {
	s.faults = append(s.faults, Fault{what, page, picture})
}

// names of pictures, by what they are worth.
var (
	cameras  = []string{"IMG_%04d", "DSC_%04d", "DSCN%04d", "P10%05d"}
	awkward  = []string{"Boat party %d", "Sommerfest überall %d", "jetty & boats %d", "new(%d)"}
	subjects = []string{"autumn-launch", "river-clean-up", "junior-race", "boatshed-roof", "night-paddle", "summer-camp"}
)

// nameOf is a name that a picture gets, and what is wrong with it.
type nameOf struct{ text, fault string }

func (s *site) name() nameOf {
	for {
		n, k := 1000+s.by.IntN(8999), s.by.IntN(10)
		var name nameOf
		switch {
		case k < 4:
			name = nameOf{fmt.Sprintf(cameras[s.by.IntN(len(cameras))], n), CameraName}
		case k < 6:
			name = nameOf{fmt.Sprintf(awkward[s.by.IntN(len(awkward))], n), AwkwardName}
		default:
			name = nameOf{fmt.Sprintf("%s-%d", subjects[s.by.IntN(len(subjects))], n), ""}
		}
		if !s.names[name.text] {
			s.names[name.text] = true
			return name
		}
	}
}

// picture is a file that was made.
type picture struct {
	path string
	data []byte
	size size
}

// picture makes a JPEG, now and then with what travels inside unseen.
func (s *site) picture(folder string, name nameOf, of size) picture {
	s.made++
	p := picture{path: folder + "/" + name.text + ".jpg", size: of}
	inside := s.by.IntN(10)
	p.data = s.stock.jpeg(s.by.IntN(scenes), of, s.made, inside == 0, inside == 1)
	if inside == 0 {
		s.fault(Position, "", p.path)
	}
	if inside == 1 {
		s.fault(Serial, "", p.path)
	}
	if name.fault != "" {
		s.fault(name.fault, "", p.path)
	}
	return p
}

var (
	colours = []string{"red", "yellow", "blue", "green", "white"}
	boats   = []string{"canoe", "kayak", "rowing boat", "raft", "dinghy"}
	acts    = []string{"leaves the jetty", "drifts past the reeds", "waits at the lock", "lies upside down on the grass", "turns at the buoy", "is carried to the water"}
	times   = []string{"at dawn", "in the rain", "on a calm morning", "under grey clouds", "late in autumn", "after the storm", "before the race"}
)

// words are a description that says something; none comes twice.
func (s *site) words() string {
	for {
		text := fmt.Sprintf("A %s %s %s %s", colours[s.by.IntN(len(colours))], boats[s.by.IntN(len(boats))], acts[s.by.IntN(len(acts))], times[s.by.IntN(len(times))])
		if !s.names[text] {
			s.names[text] = true
			return text
		}
	}
}

// Of returns the faults of a kind, as page and picture, in order.
func Of(all []Fault, what string) (keys []string) {
	for _, f := range all {
		if f.What == what {
			keys = append(keys, f.Page+"|"+f.Picture)
		}
	}
	slices.Sort(keys)
	return keys
}
