package people

import (
	"strings"
	"sync"
	"time"
)

// slowdown makes guessing slow: from some failures on, each further one doubles how
// long the next try has to wait. A try counts as failed from its beginning, so that
// many at once do not slip through; one that succeeds is forgiven.
type slowdown struct {
	free    int           // failures without a wait
	longest time.Duration // longest wait

	mu     sync.Mutex
	failed map[string]failures
}

type failures struct {
	count int
	until time.Time
}

const (
	forgetAfter = time.Hour
	mostTracked = 10_000
)

// wait returns how long the next try of a key has to wait.
func (s *slowdown) wait(now time.Time, key string) time.Duration {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.failed[strings.ToLower(key)].until.Sub(now)
}

// begin counts a try of a key as failed, unless it has to wait.
func (s *slowdown) begin(now time.Time, key string) (wait time.Duration) {
	key = strings.ToLower(key)
	s.mu.Lock()
	defer s.mu.Unlock()
	f := s.failed[key]
	if wait = f.until.Sub(now); wait > 0 {
		return wait
	}
	s.count(now, key, f)
	return 0
}

// heard counts a try that failed elsewhere, whether or not one here would have to wait.
func (s *slowdown) heard(now time.Time, key string) {
	key = strings.ToLower(key)
	s.mu.Lock()
	defer s.mu.Unlock()
	s.count(now, key, s.failed[key])
}

// count counts one more failure of a key. Call it while mu is held.
func (s *slowdown) count(now time.Time, key string, f failures) {
	if s.failed == nil {
		s.failed = map[string]failures{}
	}
	if len(s.failed) >= mostTracked {
		s.makeRoom(now)
	}
	if now.Sub(f.until) > forgetAfter {
		f.count = 0
	}
	f.count++
	f.until = now
	if over := f.count - s.free; over >= 0 {
		f.until = now.Add(min(time.Second<<min(over, 20), s.longest))
	}
	s.failed[key] = f
}

// makeRoom forgets keys, those first that have least to wait for.
func (s *slowdown) makeRoom(now time.Time) {
	for _, enough := range []func(failures) bool{
		func(f failures) bool { return now.Sub(f.until) > forgetAfter },
		func(f failures) bool { return f.count < s.free },
		func(f failures) bool { return true },
	} {
		for k, f := range s.failed {
			if enough(f) {
				delete(s.failed, k)
			}
			if len(s.failed) <= mostTracked/2 {
				return
			}
		}
	}
}

// forgive takes a try back that succeeded; all forgets the failures before it, too.
func (s *slowdown) forgive(key string, all bool) {
	key = strings.ToLower(key)
	s.mu.Lock()
	defer s.mu.Unlock()
	f, ok := s.failed[key]
	if !ok {
		return
	}
	if f.count--; all || f.count <= 0 {
		delete(s.failed, key)
		return
	}
	f.until = time.Time{}
	s.failed[key] = f
}
