package page

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
)

// Mark stands for a block as it is: it changes with anything in it. What somebody
// sends of a block carries the mark of what they saw, so that nobody overwrites
// what they have not seen.
func (b Block) Mark() string {
	data, err := json.Marshal(b.unfilled())
	if err != nil {
		panic(err) // a block always has a JSON form
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:6])
}

// Gap is a place between two blocks.
type Gap struct {
	// After is the block before it; "" is the beginning of the page. Unlike a counted
	// place it stays where it is when others add blocks meanwhile.
	After string
	// Column of the band, where After is the band itself; behind another block it is
	// that block's.
	Column int
}

// Behind is the gap behind a block.
func Behind(id string) Gap { return Gap{After: id} }

// InsertAt puts a block into a gap. Where the block before it is gone, it comes to
// the end.
func (d Doc) InsertAt(g Gap, b Block) (Doc, error) {
	at := 0
	if g.After != "" {
		if at = d.index(g.After) + 1; at == 0 {
			at = len(d.Blocks)
		}
	}
	if b.Kind == Band { // a band is put between bands, never into one
		b.Column = 0
		for at < len(d.Blocks) && d.Blocks[at].Kind != Band {
			at++
		}
	} else {
		b.Column = d.columnAt(at, g)
	}
	return d.Insert(at, b)
}

// columnAt is the column of a gap whose position is known.
func (d Doc) columnAt(at int, g Gap) int {
	if at > 0 && d.Blocks[at-1].Kind != Band {
		return d.Blocks[at-1].Column
	}
	return max(g.Column, 0)
}

// Move moves a block by a number of places among those of its column, as far as the
// page goes: past the first it leaves its band for the one before, past the last for
// the one after. A band moves with all that stands in it.
func (d Doc) Move(id string, by int) (Doc, error) {
	if d.index(id) < 0 {
		return d, fmt.Errorf("the page has no block %s", id)
	}
	for ; by < 0; by++ {
		d = d.stepUp(d.index(id))
	}
	for ; by > 0; by-- {
		d = d.stepDown(d.index(id))
	}
	return d, nil
}

// stepUp moves the block at a position before the one above it.
func (d Doc) stepUp(i int) Doc {
	b := d.Blocks[i]
	for j := i - 1; j >= 0; j-- {
		o := d.Blocks[j]
		if o.Kind != Band && (b.Kind == Band || o.Column != b.Column) {
			continue
		}
		end := i + 1
		if b.Kind == Band {
			end = d.bandEnd(i)
		}
		return d.shifted(i, end, j)
	}
	if b.Kind == Band && i > 0 { // before what stands before the first band
		return d.shifted(i, d.bandEnd(i), 0)
	}
	return d
}

// stepDown moves the block at a position behind the one below it.
func (d Doc) stepDown(i int) Doc {
	b := d.Blocks[i]
	if b.Kind == Band {
		end := d.bandEnd(i)
		if end == len(d.Blocks) {
			return d
		}
		return d.shifted(end, d.bandEnd(end), i) // the next band comes before this one
	}
	for j := i + 1; j < len(d.Blocks); j++ {
		if o := d.Blocks[j]; o.Kind == Band || o.Column == b.Column {
			return d.shifted(i+1, j+1, i)
		}
	}
	return d
}

// bandEnd is the position behind the last block of the band at a position.
func (d Doc) bandEnd(i int) int {
	for i++; i < len(d.Blocks) && d.Blocks[i].Kind != Band; {
		i++
	}
	return i
}

// shifted moves the blocks from one position up to another before an earlier one.
func (d Doc) shifted(from, to, before int) Doc {
	d.Blocks = slices.Concat(d.Blocks[:before], d.Blocks[from:to], d.Blocks[before:from], d.Blocks[to:])
	return d
}

// MoveTo puts a block into a gap. A band moves with all that stands in it.
func (d Doc) MoveTo(id string, g Gap) (Doc, error) {
	i := d.index(id)
	if i < 0 {
		return d, fmt.Errorf("the page has no block %s", id)
	}
	end := i + 1
	if d.Blocks[i].Kind == Band {
		end = d.bandEnd(i)
	}
	if a := d.index(g.After); a >= i && a < end {
		return d, nil // it is there already
	}
	moved := slices.Clone(d.Blocks[i:end])
	rest := Doc{Blocks: slices.Delete(slices.Clone(d.Blocks), i, end)}
	rest, err := rest.InsertAt(g, moved[0])
	if err != nil {
		return d, err
	}
	at := rest.index(id)
	d.Blocks = slices.Insert(rest.Blocks, at+1, moved[1:]...)
	return d, nil
}

// WithPlacement puts another placement in the place of the nth of a block.
func (d Doc) WithPlacement(id string, n int, p Placement) (Doc, error) {
	b, ok := d.Block(id)
	if !ok {
		return d, fmt.Errorf("the page has no block %s", id)
	}
	b, err := b.WithPlacement(n, p)
	if err != nil {
		return d, err
	}
	return d.Replace(b)
}

// RemovePicture takes a picture, or a place that waits, out of its block; the last
// one takes the block with it, but for one with words beside it, which become a
// text. What is left of a pair stands alone.
func (d Doc) RemovePicture(id string, n int) (Doc, error) {
	b, ok := d.Block(id)
	if !ok || n < 0 || n >= len(b.Holds()) {
		return d, fmt.Errorf("the page has no picture %d in block %s", n+1, id)
	}
	switch {
	case b.Kind == Beside && b.Text != "":
		b.Kind, b.Placement = Text, nil
	case b.Placement != nil || len(b.Pictures) == 1:
		return d.Remove(id)
	case b.Kind == Pair:
		left := b.Pictures[1-n]
		b.Kind, b.Placement, b.Pictures = Picture, &left, nil
	default:
		b.Pictures = slices.Delete(slices.Clone(b.Pictures), n, n+1)
	}
	return d.Replace(b)
}
