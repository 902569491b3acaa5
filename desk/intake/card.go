package intake

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"sync"

	"mivlet/desk/access"
	"mivlet/desk/jobs"
)

// card is the camera card: a stand-in for one in a reader. It is inserted and
// ejected on the screen.
type card struct {
	files    fs.FS // nil where there is none
	mu       sync.Mutex
	inserted bool
	hashes   map[string]string // by path, as far as they were worked out
}

// CardFile is a picture on the camera card.
type CardFile struct {
	Path  string
	Bytes int64
	Taken bool // it was taken in before
}

// CardView is the camera card as it lies in the reader.
type CardView struct {
	There    bool // there is a reader at all
	Inserted bool
	Files    []CardFile
	Clutter  int // other files that cameras write
}

// onCard matches pictures as cameras lay them out: DCIM, a folder of three
// digits and five characters, four characters and four digits (DCF, JEITA
// CP-3461, memory).
var onCard = regexp.MustCompile(`^DCIM/\d{3}[A-Z0-9_]{5}/[A-Z0-9_]{4}\d{4}\.(?:JPG|PNG|GIF|TIF|HEIC|WEBP)$`)

// InsertCard puts the camera card into the reader, or takes it out.
func (d *Desk) InsertCard(in bool) error {
	if err := d.MayMeasure(); err != nil {
		return err
	}
	d.card.mu.Lock()
	defer d.card.mu.Unlock()
	if d.card.files == nil {
		return access.Refuse(access.Missing, "There is no card reader here.", "Choose the files instead.")
	}
	d.card.inserted = in
	return nil
}

// Card returns what lies on the camera card.
func (d *Desk) Card() (CardView, error) {
	if err := d.MayLook(); err != nil {
		return CardView{}, err
	}
	d.card.mu.Lock()
	defer d.card.mu.Unlock()
	v := CardView{There: d.card.files != nil, Inserted: d.card.inserted}
	if !v.Inserted {
		return v, nil
	}
	err := fs.WalkDir(d.card.files, ".", func(name string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			return err
		}
		if !onCard.MatchString(name) {
			v.Clutter++
			return nil
		}
		info, err := e.Info()
		if err != nil {
			return err
		}
		hash, err := d.card.hash(name)
		if err != nil {
			return err
		}
		same, err := d.Store.PicturesByOriginal(hash)
		v.Files = append(v.Files, CardFile{name, info.Size(), slices.ContainsFunc(same, d.Sees)})
		return err
	})
	return v, err
}

// hash works the hash of a file out once.
func (c *card) hash(name string) (string, error) {
	if h, ok := c.hashes[name]; ok {
		return h, nil
	}
	f, err := c.files.Open(name)
	if err != nil {
		return "", err
	}
	defer f.Close()
	sum := sha256.New()
	if _, err := io.Copy(sum, f); err != nil {
		return "", err
	}
	if c.hashes == nil {
		c.hashes = map[string]string{}
	}
	c.hashes[name] = hex.EncodeToString(sum.Sum(nil))
	return c.hashes[name], nil
}

// TakeFromCard takes files of the camera card in, beside the screens. The card
// itself is only read.
func (d *Desk) TakeFromCard(names []string, section string) (*jobs.Job, error) {
	if err := d.MayWork(section); err != nil {
		return nil, err
	}
	v, err := d.Card()
	if err != nil {
		return nil, err
	}
	if !v.Inserted {
		return nil, access.Refuse(access.Missing, "There is no card in the reader.", "Insert it first.")
	}
	var tasks []jobs.Of[toTake]
	for _, f := range v.Files {
		if !slices.Contains(names, f.Path) {
			continue
		}
		same, err := d.broughtBefore(f.Path, section)
		if err != nil {
			return nil, err
		}
		tasks = append(tasks, jobs.Of[toTake]{Steps: 1, Of: toTake{f.Path, section, same}})
	}
	if len(tasks) == 0 {
		return nil, access.Refuse(access.Bad, "No picture of the card is chosen.", "Tick those to take.")
	}
	return d.takeLater(d.jobs, "Taking from the card", tasks)
}

// toTake is a picture of the card that is to be taken in for a section.
type toTake struct {
	Path    string `json:"path"`
	Section string `json:"section"`
	Before  int    `json:"before"` // pictures of the section that were it already
}

// broughtBefore counts the pictures of a section that a file of the card became.
func (d *Desk) broughtBefore(name, section string) (n int, err error) {
	d.card.mu.Lock()
	hash, err := d.card.hash(name)
	d.card.mu.Unlock()
	if err != nil {
		return 0, fmt.Errorf("%s: the card was taken out", path.Base(name))
	}
	same, err := d.Store.PicturesByOriginal(hash)
	for _, p := range same {
		if p.Section == section {
			n++
		}
	}
	return n, err
}

// takeOne takes one in, unless that was done before the program ended.
func (d *Desk) takeOne(of toTake) error {
	now, err := d.broughtBefore(of.Path, of.Section)
	if err != nil || now > of.Before {
		return err
	}
	r, err := d.card.files.Open(of.Path)
	if err != nil {
		return fmt.Errorf("%s: the card was taken out", path.Base(of.Path))
	}
	defer r.Close()
	_, err = d.pictures.Arrive(path.Base(of.Path), r, of.Section)
	return err
}
