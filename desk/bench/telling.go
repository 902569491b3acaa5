package bench

import (
	"slices"

	"mivlet/core/private"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Telling is what a picture tells that may be private: what can be seen in it, and what
// its original carries. Nothing of the original leaves with a cut.
type Telling struct {
	store.Picture
	Faces    []FoundFace
	Small    bool // small faces may be in it: nobody has looked closer
	LeftOut  bool // nobody has looked for faces, as the house wants it
	Lines    []derive.TextLine
	CanRead  bool // a program that reads text is installed
	Carries  []string
	Names    []string // in what the original carries
	Unveiled []Nearly
}

// Nearly is a picture that shows nearly the same, with fewer veils, on a live page.
type Nearly struct {
	store.Picture
	Pages []store.Page
}

// OpenFaces counts the faces that can be seen and that nobody has allowed.
func (t Telling) OpenFaces() int { return len(OpenAmong(t.Faces)) }

// Private are the lines that can be read and look private.
func (t Telling) Private() []derive.TextLine {
	return slices.DeleteFunc(slices.Clone(t.Lines), func(l derive.TextLine) bool { return l.Kind == "text" })
}

// Quiet reports whether nothing of it asks to be looked at.
func (t Telling) Quiet() bool {
	return t.OpenFaces() == 0 && len(t.Private()) == 0 && len(t.Unveiled) == 0
}

// Telling gathers what a picture tells, on one sheet: before anything leaves.
func (d *Desk) Telling(id uint) (Telling, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return Telling{}, err
	}
	t := Telling{Picture: p, CanRead: d.derive.CanRead(), LeftOut: d.Rules().Hiding.LeaveFace}
	if !t.LeftOut {
		found, err := d.facesOf(p)
		if err != nil {
			return t, err
		}
		t.Picture, t.Faces, t.Small = found.Picture, found.All, found.Closer
	}
	lines, err := d.derive.LinesOf(p)
	if err != nil {
		return t, err
	}
	veils := p.Work.Recipe.Veils()
	t.Lines = slices.DeleteFunc(lines, func(l derive.TextLine) bool { return veil.Hide(veils, l.Bounds) })
	t.Carries, t.Names = carries(p, d.Rules().Hiding.Watch)
	t.Unveiled, err = d.unveiled(p)
	return t, err
}

// carries lists what an original carries of persons and places, and the names in it.
func carries(p store.Picture, watch []string) (what, names []string) {
	f := p.Facts
	for _, c := range []struct {
		there bool
		text  string
	}{{f.Position, "where it was taken"}, {!f.Taken.IsZero(), "when it was taken"}, {f.Serial, "the number of a camera, or its owner"}, {f.Thumbnail, "what it looked like before, in a small copy"}, {f.MakerNotes, "what the camera noted of its own"}} {
		if c.there {
			what = append(what, c.text)
		}
	}
	names = slices.Clone(f.People)
	for _, text := range append([]string{f.Title, f.Description, f.Alt, f.LongDescription, p.OriginalName}, f.Keywords...) {
		for _, t := range private.Judge(text, watch...) {
			names = access.AddOnce(names, t.Text)
		}
	}
	if f.Credit != "" {
		names = access.AddOnce(names, f.Credit)
	}
	return what, names
}

// unveiled are pictures that show nearly the same with fewer veils, and are live.
func (d *Desk) unveiled(p store.Picture) ([]Nearly, error) {
	veils := len(p.Work.Recipe.Veils())
	if veils == 0 {
		return nil, nil
	}
	near, err := d.pictures.NearTwins([]store.Picture{p})
	if err != nil {
		return nil, err
	}
	var all []Nearly
	for _, t := range near[p.ID] {
		if len(t.Work.Recipe.Veils()) >= veils {
			continue
		}
		pages, err := d.Store.LivePagesShowing(t.ID)
		if err != nil {
			return nil, err
		}
		if len(pages) > 0 {
			all = append(all, Nearly{t, pages})
		}
	}
	return all, nil
}
