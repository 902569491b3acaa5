package page

import (
	"fmt"
	"slices"

	"mivlet/core/rules"
)

// Run is the pictures that stand one below the other around a block, each in a block of its own,
// in reading order. It is nil where the block is no such picture; places that wait for one, and
// any words between, end it.
func (d Doc) Run(id string) []Block {
	i := d.index(id)
	if i < 0 || !d.Blocks[i].alone() {
		return nil
	}
	one := d.Blocks[i]
	goesOn := func(b Block) bool { return b.alone() && b.Column == one.Column }
	from, to := i, i+1
	for from > 0 && goesOn(d.Blocks[from-1]) {
		from--
	}
	for to < len(d.Blocks) && goesOn(d.Blocks[to]) {
		to++
	}
	return slices.Clone(d.Blocks[from:to])
}

// alone reports whether the block is one picture, and nothing else.
func (b Block) alone() bool { return b.Kind == Picture && b.Placement != nil && !b.Placement.Waits() }

// Together has the pictures of a run (see [Doc.Run]) stand together: in pairs, two by two, where
// the last of an odd number goes on standing alone, or in one strip. Each keeps its words and where
// it leads; how wide it is goes by its new place. Fewer than two cannot stand together.
func (d Doc) Together(id string, kind Kind, r rules.Rules) (Doc, error) {
	run := d.Run(id)
	if len(run) < 2 {
		return d, fmt.Errorf("block %s stands alone: two pictures are needed, one below the other", id)
	}
	size := 2
	switch kind {
	case Pair:
	case Strip:
		size = len(run)
	default:
		return d, fmt.Errorf("pictures cannot stand together as %q: pair or strip would do", kind)
	}
	slot := Waiting(kind, r).Pictures[0].Slot
	if of, ok := r.Slot(slot); !ok || !kind.Takes(of) {
		return d, fmt.Errorf("the house has no slot for a %s", kind)
	}
	var joined []Block
	for together := range slices.Chunk(run, size) {
		b := together[0]
		if len(together) > 1 {
			b = Block{ID: b.ID, Kind: kind, Column: b.Column}
			for _, one := range together {
				p := *one.Placement
				b.Pictures = append(b.Pictures, Placement{Picture: p.Picture, Slot: slot, Side: None, Caption: p.Caption, Alt: p.Alt, Decorative: p.Decorative, Link: p.Link})
			}
		}
		joined = append(joined, b)
	}
	return d.instead(run, joined...), nil
}

// InsteadOf puts a block in the place of a run of pictures.
func (d Doc) InsteadOf(run []Block, b Block) (Doc, error) {
	if len(run) == 0 || d.index(run[0].ID) < 0 {
		return d, fmt.Errorf("the pictures are not on the page")
	}
	b.Column = run[0].Column
	return d.instead(run, b), nil
}

// instead puts blocks in the place of some that follow each other.
func (d Doc) instead(of []Block, by ...Block) Doc {
	i := d.index(of[0].ID)
	d.Blocks = slices.Replace(slices.Clone(d.Blocks), i, i+len(of), by...)
	return d
}
