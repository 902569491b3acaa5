package snapshot

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"mivlet/core/page"
	"mivlet/desk/cuts"
	"mivlet/store"
)

// Difference is one thing that publishing a page would change for visitors.
type Difference struct {
	page.Change
	Was string         // the hash of the cut that visitors see; "" where they see none
	Now *store.Picture // what they would see; nil where nothing
}

// Changes tells what publishing a page would change for visitors: the blocks that
// were added, taken off and changed since it last went live, and the pictures that
// look otherwise now.
func (d *Desk) Changes(n *Snapshot) ([]Difference, error) {
	if !n.Live() {
		return nil, nil
	}
	was, err := d.Store.NewestLive(n.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	before, err := page.Parse([]byte(was.Doc))
	if err != nil {
		return nil, fmt.Errorf("the live version of page %d: %w", n.ID, err)
	}
	return n.withPictures(page.Compare(before, n.Doc), d.filesSeen(was)), nil
}

// filesSeen are the files that visitors get of a live version, by picture, the smallest
// first.
func (d *Desk) filesSeen(v store.LiveVersion) map[uint][]store.Published {
	seen := map[uint][]store.Published{}
	for _, f := range v.Files {
		if f.PictureID != 0 && f.For == "" {
			seen[f.PictureID] = append(seen[f.PictureID], f)
		}
	}
	for _, files := range seen {
		slices.SortFunc(files, func(a, b store.Published) int {
			return cmp.Compare(store.SizeOf(d.Store.Files, a.Hash), store.SizeOf(d.Store.Files, b.Hash))
		})
	}
	return seen
}

// withPictures adds what the pictures of changed blocks look like before and after,
// and blocks where nothing but the picture has changed.
func (n *Snapshot) withPictures(blocks []page.Change, seen map[uint][]store.Published) []Difference {
	shown := func(b page.Block) string {
		for _, at := range b.Holds() {
			if files := seen[at.Picture]; len(files) > 0 {
				return files[0].Hash
			}
		}
		return ""
	}
	all := make([]Difference, len(blocks))
	for i, c := range blocks {
		all[i].Change = c
		if all[i].Was = shown(c.Before); c.What == page.TakenOff {
			all[i].Was = shown(c.Block)
			continue
		}
		for _, at := range c.Block.Holds() {
			if pic, ok := n.Pictures[at.Picture]; ok {
				all[i].Now = &pic
				break
			}
		}
	}
	for _, s := range n.stands() {
		if slices.ContainsFunc(all, func(c Difference) bool { return c.Block.ID == s.Block }) {
			continue
		}
		pic := n.Pictures[s.Picture]
		key := cuts.CutKey(n.House.Rules, pic, s.Slot)
		if files := seen[pic.ID]; !slices.ContainsFunc(files, func(f store.Published) bool { return f.CutKey == key }) {
			b, _ := n.Doc.Block(s.Block)
			c := Difference{Change: page.Change{What: page.PictureOnly, Block: b, Before: b}, Now: &pic}
			if len(files) > 0 {
				c.Was = files[0].Hash
			}
			all = append(all, c)
		}
	}
	return all
}
