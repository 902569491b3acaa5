package derive

import (
	"container/list"
	"fmt"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// sources keeps decoded originals for a while, so that a picture somebody
// works on is not decoded twice. The ones used longest ago make room.
type sources struct {
	mu    sync.Mutex
	most  int64 // bytes of pixels kept
	held  int64
	order *list.List // of *kept, newest first
	byKey map[string]*list.Element
}

type kept struct {
	key    string
	source *raster.Source
}

func newSources(most int64) *sources {
	return &sources{most: most, order: list.New(), byKey: map[string]*list.Element{}}
}

func (s *sources) get(key string) *raster.Source {
	s.mu.Lock()
	defer s.mu.Unlock()
	e, ok := s.byKey[key]
	if !ok {
		return nil
	}
	s.order.MoveToFront(e)
	return e.Value.(*kept).source
}

// forget takes a source out.
func (s *sources) forget(key string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if e, ok := s.byKey[key]; ok {
		s.held -= s.order.Remove(e).(*kept).source.Bytes()
		delete(s.byKey, key)
	}
}

// put keeps a source. One that is larger than all room is kept alone, until
// the next comes.
func (s *sources) put(key string, src *raster.Source) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if _, ok := s.byKey[key]; ok {
		return
	}
	s.byKey[key] = s.order.PushFront(&kept{key, src})
	s.held += src.Bytes()
	for s.held > s.most && s.order.Len() > 1 {
		last := s.order.Remove(s.order.Back()).(*kept)
		delete(s.byKey, last.key)
		s.held -= last.source.Bytes()
	}
}

// ForgetDecoded takes pixels and findings of files out of memory.
func (d *Desk) ForgetDecoded(hashes []string) {
	for _, h := range hashes {
		for _, n := range []int{1, 2, 4, 8} {
			d.sources.forget(atScale(h, n))
		}
		d.lines.Forget(h)
	}
}

// KeepDecoded keeps a file that was decoded for what is wanted, for those who ask for it next.
func (d *Desk) KeepDecoded(hash string, known facts.Facts, wanted fit.Size, src *raster.Source) {
	d.sources.put(atScale(hash, raster.Scale(known, wanted)), src)
}

// atScale names a file that is decoded at so many eighths of its size.
func atScale(hash string, eighths int) string { return fmt.Sprintf("%s at %d", hash, eighths) }
