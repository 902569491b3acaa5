package derive

import (
	"container/list"
	"fmt"
	"image"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// sources keeps decoded originals for a while, so that a picture somebody
// works on is not decoded twice. The ones used longest ago make room.
type sources struct {
	mu     sync.Mutex
	most   int64 // bytes of pixels kept
	held   int64
	order  *list.List // of *kept, newest first
	byName map[decoded]*list.Element
}

type kept struct {
	name   decoded
	source *raster.Source
}

// decoded is what was decoded of a kept file.
type decoded struct {
	hash    string
	eighths int             // of its size
	part    image.Rectangle // empty for all of it
	frame   int             // of an animation
}

// String implements [fmt.Stringer].
func (k decoded) String() string {
	return fmt.Sprintf("%s at %d, %v, frame %d", k.hash, k.eighths, k.part, k.frame)
}

func newSources(most int64) *sources {
	return &sources{most: most, order: list.New(), byName: map[decoded]*list.Element{}}
}

func (s *sources) get(name decoded) *raster.Source {
	s.mu.Lock()
	defer s.mu.Unlock()
	e, ok := s.byName[name]
	if !ok {
		return nil
	}
	s.order.MoveToFront(e)
	return e.Value.(*kept).source
}

// hasPart reports whether another part of a file is kept than one.
func (s *sources) hasPart(than decoded) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	for name := range s.byName {
		if name.hash == than.hash && name.eighths == than.eighths && !name.part.Empty() && name.part != than.part {
			return true
		}
	}
	return false
}

// forget takes out all that was decoded of a file.
func (s *sources) forget(hash string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for name, e := range s.byName {
		if name.hash == hash {
			s.held -= s.order.Remove(e).(*kept).source.Bytes()
			delete(s.byName, name)
		}
	}
}

// put keeps a source. One that is larger than all room is kept alone, until
// the next comes.
func (s *sources) put(name decoded, src *raster.Source) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if _, ok := s.byName[name]; ok {
		return
	}
	s.byName[name] = s.order.PushFront(&kept{name, src})
	s.held += src.Bytes()
	for s.held > s.most && s.order.Len() > 1 {
		last := s.order.Remove(s.order.Back()).(*kept)
		delete(s.byName, last.name)
		s.held -= last.source.Bytes()
	}
}

// ForgetDecoded takes pixels and findings of files out of memory.
func (d *Desk) ForgetDecoded(hashes []string) {
	for _, h := range hashes {
		d.sources.forget(h)
		d.lines.Forget(h)
	}
}

// KeepDecoded keeps a file that was decoded for what is wanted, for those who ask for it next.
func (d *Desk) KeepDecoded(hash string, known facts.Facts, wanted fit.Size, src *raster.Source) {
	d.sources.put(decoded{hash: hash, eighths: raster.Scale(known, wanted)}, src)
}
