package cuts

import (
	"bytes"
	"image"
	"image/png"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/store"
)

// plainCut keeps the pixels of the cut that was compared last, as it is compared
// many times in a row.
type plainCut struct {
	mu     sync.Mutex
	key    string
	pixels image.Image
}

// PlainCut opens the pixels of a picture's cut for a sharp desktop before they are
// encoded: what the cut is compared with.
func (d *Desk) PlainCut(id uint, slot string) (derive.File, error) {
	p, chosen, err := d.forSlot(id, slot)
	if err != nil {
		return derive.File{}, err
	}
	m, err := d.plainPixels(p, chosen)
	if err != nil {
		return derive.File{}, err
	}
	var b bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m); err != nil {
		return derive.File{}, err
	}
	return derive.InMemory(b.Bytes(), "image/png", derive.Fingerprint(8, "plain", d.CutKey(p, chosen))), nil
}

// Trial is a cut as it would be with another budget.
type Trial struct {
	derive.File
	Bytes   int64
	Quality int // of 100; 0 where the format has none
	SSIM    float64
	Over    string // why it is heavier than the budget; empty where it is not
	Why     string
	Usual   fit.Cut
}

// TryCut makes the cut of a picture for a slot that a sharp desktop loads within a budget in bytes,
// and keeps nothing. 0 is the budget that it has.
func (d *Desk) TryCut(id uint, slot string, budget int64) (Trial, error) {
	p, chosen, err := d.forSlot(id, slot)
	if err != nil {
		return Trial{}, err
	}
	chosen = ownBudget(p, chosen)
	if budget > 0 {
		chosen.Budget = budget
	}
	plan := PlanOf(p, chosen)
	t := Trial{Usual: sharpOf(d.Rules(), chosen, plan)}
	var e raster.Encoded
	if derive.Moves(p, chosen) {
		encode, done, err := d.encoder(p, chosen)
		if err != nil {
			return t, err
		}
		defer done()
		if e, err = encode(raster.TransformFor(p.Work.Recipe.View(p.Facts.Upright()), t.Usual), chosen.Budget); err != nil {
			return t, err
		}
	} else {
		m, err := d.plainPixels(p, chosen)
		if err != nil {
			return t, err
		}
		options, err := d.decided(p, chosen)
		if err != nil {
			return t, err
		}
		if e, err = raster.Encode(m, options); err != nil {
			return t, err
		}
		t.SSIM = likeness(m, e.Data)
	}
	t.Bytes, t.Quality, t.Over, t.Why = int64(len(e.Data)), e.Quality, e.OverBudget, e.Why
	t.File = derive.InMemory(e.Data, e.MediaType, derive.Fingerprint(8, "trial", d.CutKey(p, chosen), chosen.Budget))
	return t, nil
}

// decided are the options for a cut of a picture for a slot, with the format that the
// smallest one decides on.
func (d *Desk) decided(p store.Picture, slot rules.Slot) (raster.Options, error) {
	options, plan := optionsFor(slot), PlanOf(p, slot)
	if len(plan) < 2 {
		return options, nil
	}
	m, err := d.pixels(p, slot, plan[0])
	if err != nil {
		return options, err
	}
	e, err := raster.Encode(m, options)
	return options.AsThis(e), err
}

// Beside tells what the file of a picture that a usual desktop loads weighs as JPEG, and what it would
// weigh in other formats that look as like, in bytes; nothing where it is no JPEG.
func (d *Desk) Beside(p store.Picture, slot rules.Slot, formats []string) (jpeg int64, others []int64, err error) {
	slot = ownBudget(p, slot)
	options, err := d.decided(p, slot)
	if err != nil {
		return 0, nil, err
	}
	plan := PlanOf(p, slot)
	m, err := d.pixels(p, slot, onDesktop(d.Rules(), slot, plan, 1))
	if err != nil {
		return 0, nil, err
	}
	e, err := raster.Encode(m, options)
	if err != nil || e.Format != raster.JPEG {
		return 0, nil, err
	}
	for _, format := range formats {
		o, err := raster.Encode(m, optionsFor(slot.As(format)))
		if err != nil {
			return 0, nil, err
		}
		others = append(others, int64(len(o.Data)))
	}
	return int64(len(e.Data)), others, nil
}

// likeness is the structural similarity of a cut with its pixels; 0 where it
// cannot be told.
func likeness(m image.Image, data []byte) float64 {
	f, err := facts.Read(bytes.NewReader(data))
	if err != nil {
		return 0
	}
	s, err := raster.Decode(bytes.NewReader(data), f, raster.Limits{Side: 1 << 16, Pixels: 1 << 30, Bytes: 1 << 32})
	if err != nil {
		return 0
	}
	return raster.SSIM(m, s.Image())
}

// forSlot is a picture with one of the house's slots; an empty slot means the one
// that is chosen for it.
func (d *Desk) forSlot(id uint, slot string) (store.Picture, rules.Slot, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return p, rules.Slot{}, err
	}
	if slot == "" {
		slot = p.Work.Slot
	}
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return p, chosen, access.Refuse(access.Bad, "No slot is chosen.", "Choose where the picture will go.")
	}
	return p, chosen, nil
}

// pixels are those of one of the cuts of a picture for a slot, as they are when all are made.
func (d *Desk) pixels(p store.Picture, slot rules.Slot, c fit.Cut) (image.Image, error) {
	scales, done, err := d.derive.Stills(p, workOf(p, slot))
	if err != nil {
		return nil, err
	}
	defer done()
	return scales.Do(raster.TransformFor(p.Work.Recipe.View(p.Facts.Upright()), c).At(p.Work.Still)), nil
}

// plainPixels are the pixels of a picture's cut for a slot that a sharp desktop loads; of one that
// moves, those of its first frame.
func (d *Desk) plainPixels(p store.Picture, slot rules.Slot) (image.Image, error) {
	plan := PlanOf(p, slot)
	c := sharpOf(d.Rules(), slot, plan)
	key := derive.Fingerprint(8, p.OriginalHash, p.Work.Recipe, p.Work.Still, c)
	d.plain.mu.Lock()
	defer d.plain.mu.Unlock()
	if d.plain.key == key {
		return d.plain.pixels, nil
	}
	m, err := d.pixels(p, slot, c)
	if err != nil {
		return nil, err
	}
	d.plain.key, d.plain.pixels = key, m
	return m, nil
}

// ForgetCuts takes what was found of the cuts of files out of memory.
func (d *Desk) ForgetCuts(hashes []string) {
	for _, h := range hashes {
		d.quality.Forget(h)
	}
	d.plain.mu.Lock()
	d.plain.key, d.plain.pixels = "", nil
	d.plain.mu.Unlock()
}
