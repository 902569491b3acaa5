package derive

import (
	"context"
	"errors"
	"io"
	"runtime/debug"
	"sync/atomic"
	"time"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/desk/access"
	"mivlet/internal/traces"
	"mivlet/store"
)

// muchMemory is what is given back to the system at once, in bytes.
const muchMemory = 128 << 20

// share is what a house takes of a budget.
type share struct {
	*Budget
	house string
}

// take waits for room for a picture. done gives it back, and is safe to call again.
func (b share) take(ctx context.Context, cost int64) (done func(), err error) {
	cost = min(max(cost, 1), b.most)
	if err := b.acquire(ctx, b.house, cost); err != nil {
		return nil, err
	}
	b.used.Add(cost)
	var back atomic.Bool
	return func() {
		if back.Swap(true) {
			return
		}
		left := b.used.Add(-cost)
		b.release(cost)
		if cost >= muchMemory && left == 0 {
			go debug.FreeOSMemory()
		}
	}, nil
}

// Once does work that several may want at the same time once for all of them. Where
// whoever began it goes away, one of the others does it.
func Once[T any](d *Desk, key string, do func() (T, error)) (T, error) {
	for {
		v, err, _ := d.once.Do(key, func() (any, error) { return do() })
		if err == nil {
			return v.(T), nil
		}
		if gaveUp(err) && d.Context.Err() == nil {
			continue
		}
		var none T
		return none, err
	}
}

// gaveUp reports whether work was ended because nobody waited for it any more.
func gaveUp(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)
}

// Limits are what is decoded at all: by the rules of the house, and by what the
// machine holds.
func (d *Desk) Limits() raster.Limits {
	l := d.Rules().Limits
	return raster.Limits{Side: l.Side, Pixels: l.Pixels, Bytes: l.Bytes, Frames: l.Frames, FramePixels: l.FramePixels, Memory: d.budget.most}
}

// Decode decodes a file with room for it taken, as far as it takes to bring it down to wanted;
// nothing means all.
func (d *Desk) Decode(file io.ReadSeeker, known facts.Facts, wanted fit.Size) (*raster.Source, func(), error) {
	limits := d.Limits()
	if err := limits.CheckStill(known); err != nil {
		return nil, nil, err
	}
	cost := raster.Cost(known, 1)
	_, waited := traces.Part(d.Context, "wait for room to decode")
	done, err := d.budget.take(d.Context, cost)
	waited(err)
	if err != nil {
		return nil, nil, err
	}
	_, decoded := traces.Part(d.Context, "decode a picture", traces.Number{What: "mivlet.decoding_bytes", Is: cost}, traces.Number{What: "mivlet.wanted_width", Is: int64(wanted.W)})
	begun := time.Now()
	s, err := raster.DecodeFor(patient{file, d.Context}, known, limits, wanted)
	decoded(err)
	d.House.Decoded(time.Since(begun))
	if err != nil {
		done()
		return nil, nil, d.orGaveUp(err)
	}
	return s, done, nil
}

// Animation decodes all frames of a picture that moves. done gives their room back.
func (d *Desk) Animation(p store.Picture) (a *raster.Animation, done func(), err error) {
	limits := d.Limits()
	if err := limits.CheckFrames(p.Facts); err != nil {
		return nil, nil, d.RefuseFile(access.NameOr(p), err)
	}
	if done, err = d.budget.take(d.Context, raster.Cost(p.Facts, p.Facts.Frames)); err != nil {
		return nil, nil, err
	}
	f, err := d.Store.Files.Open(p.OriginalHash)
	if err == nil {
		defer f.Close()
		begun := time.Now()
		a, err = raster.DecodeAnimation(patient{f, d.Context}, p.Facts, limits)
		d.House.Decoded(time.Since(begun))
	}
	if err != nil {
		done()
		return nil, nil, d.orGaveUp(err)
	}
	return a, done, nil
}

// orGaveUp tells a decoder's error from the end of the request that it worked for.
func (d *Desk) orGaveUp(err error) error {
	if d.Context.Err() != nil {
		return d.Context.Err()
	}
	return err
}

// patient reads a file for as long as somebody waits for it: a decoder that wants more
// afterwards is told to end.
type patient struct {
	io.ReadSeeker
	ctx context.Context
}

// Read reads on while somebody waits.
func (p patient) Read(b []byte) (int, error) {
	if err := p.ctx.Err(); err != nil {
		return 0, err
	}
	return p.ReadSeeker.Read(b)
}

// DecodingNow is how much memory decoding takes at this moment, in bytes, of all houses that share it.
func (d *Desk) DecodingNow() int64 { return d.budget.Used() }
