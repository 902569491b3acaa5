package pictures

import (
	"bytes"
	"cmp"
	"crypto/rand"
	"fmt"
	"io"
	"path"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/people"
	"mivlet/store"
)

// Arrival is a picture that has come in and waits for a slot and a section.
type Arrival struct {
	store.Picture
	Twin *store.Picture  // the same file, brought before
	Near []store.Picture // the same photo in another file: smaller, recompressed, slightly cropped
}

// Arrive takes a file in. It streams r to disk, judges it by its bytes and by
// the types the house takes, and decodes it once, for the check that it is
// whole and for its previews. What is refused leaves nothing behind.
func (d *Desk) Arrive(name string, r io.Reader, section string) (Arrival, error) {
	p, err := d.TakeIn(name, r, section)
	if err != nil {
		return Arrival{}, err
	}
	return d.addArrival(p)
}

// TakeIn is Arrive without a record: the files that it makes are kept, and swept away
// where nobody records them.
func (d *Desk) TakeIn(name string, r io.Reader, section string) (store.Picture, error) {
	name = BaseName(name)
	if err := d.MayWork(section); err != nil {
		return store.Picture{}, err
	}
	house := d.Rules()
	if _, ok := house.Section(section); !ok {
		return store.Picture{}, access.Refuse(access.Bad, fmt.Sprintf("There is no section %q.", section), "Choose one of the house's sections.")
	}
	in, err := d.Receive(name, r)
	if err != nil {
		return store.Picture{}, err
	}
	defer in.Discard()
	known, err := facts.Read(in)
	if err != nil {
		return store.Picture{}, d.RefuseNoPicture(in, name, err)
	}
	kind, ok, err := d.JudgeFile(in, name, known.MediaType)
	switch {
	case err != nil:
		return store.Picture{}, err
	case !ok:
		return store.Picture{}, access.Refuse(access.Bad, fmt.Sprintf("%s is a type of file that the house does not take (%s).", name, known.MediaType), d.takenTypes())
	}
	return d.take(in, name, section, known, kind)
}

// Receive streams a file to disk, as far as the house's limit of bytes. What is
// refused leaves nothing behind; what is not is the caller's to discard or keep.
func (d *Desk) Receive(name string, r io.Reader) (*store.Incoming, error) {
	limit := d.Rules().Limits.Bytes
	in, err := d.Store.Files.Receive(io.LimitReader(r, limit+1))
	if err != nil {
		return nil, fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	if in.Bytes > limit {
		in.Discard()
		return nil, d.TooLarge(name)
	}
	return in, nil
}

// take decodes a file that the house takes, and keeps it with its previews.
func (d *Desk) take(in *store.Incoming, name, section string, known facts.Facts, kind rules.Type) (store.Picture, error) {
	if err := d.RoomToDecode(); err != nil {
		return store.Picture{}, err
	}
	p := store.Picture{Section: section, OriginalHash: in.Hash, OriginalName: name, Facts: known, Station: store.Arrivals, Person: d.Person.Name, Secret: rand.Text()}
	if known.KeepsMotion() {
		if err := d.derive.Limits().CheckFrames(known); err != nil {
			return p, d.RefuseFile(name, err)
		}
	}
	if err := d.arriving.Acquire(d.Context, 1); err != nil { // so many at a time, however many arrive
		return p, err
	}
	defer d.arriving.Release(1)
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return p, err
	}
	converted := kind.Do == rules.Convert && !(known.KeepsMotion() && kind.To != "image/webp")
	wanted := derive.ForCopies(known.Upright()) // the largest that is made of it now
	if converted {
		wanted = fit.Size{}
	}
	src, done, err := d.derive.Decode(in, known, wanted)
	if err != nil {
		return p, d.RefuseFile(name, err)
	}
	defer func() { done() }()
	if err := in.Keep(known.MediaType); err != nil {
		return p, err
	}
	if converted {
		data, fresh, err := d.convert(&p, src, kind.To)
		if err != nil {
			return p, err
		}
		done() // its room is given back before more is asked for
		known, wanted = fresh, derive.ForCopies(fresh.Upright())
		if src, done, err = d.derive.Decode(bytes.NewReader(data), known, wanted); err != nil {
			done = func() {}
			return p, err
		}
	}
	d.derive.KeepDecoded(p.OriginalHash, known, wanted, src)
	small, err := d.derive.MakePreview(&p, src)
	if err != nil {
		return p, err
	}
	done() // what follows is made of the working copy
	d.lookForFaces(&p, small)
	focusOnFaces(&p)
	if p.ThumbHash, err = d.derive.LookOf(p, small, derive.ThumbSide); err != nil {
		return p, err
	}
	p.LookKey = derive.LookKey(p)
	return p, nil
}

// convert makes the picture's original a file of another type, and returns it with its
// facts. The file as it came is kept beside it, and what travelled in it is known.
func (d *Desk) convert(p *store.Picture, src *raster.Source, to string) ([]byte, facts.Facts, error) {
	size := src.Upright()
	format := raster.Format(strings.TrimPrefix(to, "image/"))
	if format == raster.JPEG && !src.Opaque() {
		format = raster.PNG
	}
	e, err := raster.Encode(src.Cut(size.Rect(), size), raster.Options{Format: format, Quality: 92})
	if err != nil {
		return nil, facts.Facts{}, err
	}
	hash, err := d.Store.Files.Put(bytes.NewReader(e.Data), e.MediaType)
	if err != nil {
		return nil, facts.Facts{}, err
	}
	fresh, err := facts.Read(bytes.NewReader(e.Data))
	if err != nil {
		return nil, fresh, err
	}
	old := p.Facts
	old.MediaType, old.Stored, old.Orientation, old.Bytes = fresh.MediaType, fresh.Stored, fresh.Orientation, fresh.Bytes
	old.Clean, old.Coded = fresh.Clean, fresh.Coded
	old.Profile, old.Alpha, old.Depth, old.Position, old.Thumbnail, old.MakerNotes = fresh.Profile, fresh.Alpha, fresh.Depth, false, false, false
	p.Converted, p.ArrivedHash, p.OriginalHash, p.Facts = p.Facts.MediaType, p.OriginalHash, hash, old
	return e.Data, fresh, nil
}

// takenTypes tells what the house takes, in one sentence.
func (d *Desk) takenTypes() string {
	return strings.Join(d.Rules().Taken(), ", ") + " are taken."
}

// addArrival records a picture whose original is kept.
func (d *Desk) addArrival(p store.Picture) (Arrival, error) {
	p.CreatedAt = d.Now()
	p.UpdatedAt = p.CreatedAt
	p.Work.Alt, p.Work.LongAlt, p.Work.Credit = words.Visible(p.Facts.Alt), words.Visible(p.Facts.LongDescription), words.Visible(p.Facts.Credit)
	err := d.Store.Tx(func(s store.Records) error {
		if err := d.RoomForPicture(s, p.Facts.Bytes); err != nil {
			return err
		}
		if err := s.AddPicture(&p); err != nil {
			return err
		}
		return d.TracePicture(s, p, "Brought %s in", p.OriginalName)
	})
	if err != nil {
		return Arrival{}, err
	}
	all, err := d.arrivals([]store.Picture{p})
	if err != nil {
		return Arrival{}, err
	}
	return all[0], nil
}

// arrivals finds what is here already of the same photos, as far as whoever is at the
// desk may see it. It asks the records as often for many as for one.
func (d *Desk) arrivals(ps []store.Picture) ([]Arrival, error) {
	var files []string
	for _, p := range ps {
		files = append(files, cmp.Or(p.ArrivedHash, p.OriginalHash))
	}
	same, err := d.Store.PicturesByOriginals(files)
	if err != nil {
		return nil, err
	}
	near, err := d.NearTwins(ps)
	if err != nil {
		return nil, err
	}
	all := make([]Arrival, len(ps))
	for i, p := range ps {
		all[i].Picture = p
		for _, t := range same[files[i]] {
			if t.ID < p.ID && t.Station != store.Bin && d.Sees(t) {
				all[i].Twin = &t
				break
			}
		}
		if all[i].Twin == nil {
			all[i].Near = near[p.ID]
		}
	}
	return all, nil
}

// Waiting returns what has arrived and waits, newest first.
func (d *Desk) Waiting() ([]Arrival, error) {
	ps, err := d.Own(store.Arrivals)
	if err != nil {
		return nil, err
	}
	return d.arrivals(ps)
}

// Binned returns what was thrown away, newest first.
func (d *Desk) Binned() ([]store.Picture, error) { return d.Own(store.Bin) }

// mostShown is how many pictures of a station one screen shows.
const mostShown = 240

// Own returns the pictures at a station that whoever is at the desk works on,
// newest first, as many as a screen shows.
func (d *Desk) Own(at store.Station) ([]store.Picture, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.PicturesOf(at, d.OwnSections(), mostShown)
}

// OwnSections are the codes of the sections that whoever is at the desk works
// for; nil stands for all.
func (d *Desk) OwnSections() []string {
	if d.Person.Keeper {
		return nil
	}
	return people.SortedKeys(d.Person.Roles)
}

// TooSmallFor returns the slots that a picture has too few pixels for.
func (d *Desk) TooSmallFor(p store.Picture) []rules.Slot {
	var small []rules.Slot
	for _, slot := range d.Rules().Slots {
		if len(audit.Stops(audit.CheckFit(audit.Picture{Facts: p.Facts, Recipe: p.Work.Recipe, Slot: &slot}))) > 0 {
			small = append(small, slot)
		}
	}
	return small
}

// BaseName takes the folders off a name that a browser or a camera gives, and what
// nobody sees; one that is very long is shortened.
func BaseName(name string) string {
	name = path.Base(strings.ReplaceAll(words.Visible(name), `\`, "/"))
	if name == "." || name == "/" || name == "" {
		return "the file"
	}
	ext := path.Ext(name)
	if len([]rune(ext)) > 12 {
		ext = ""
	}
	return words.VisibleLine(strings.TrimSuffix(name, ext), mostName) + ext
}

// mostName is the most characters of a file's name that are kept, without its extension.
const mostName = 180
