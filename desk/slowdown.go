package desk

import (
	"strings"
	"sync"
	"time"
)

// slowdown makes guessing of passwords slow: from the third failure on, each
// further one doubles how long the next try has to wait, up to five minutes.
// It counts by login and by address. The zero value works.
type slowdown struct {
	mu     sync.Mutex
	failed map[string]failures
}

type failures struct {
	count int
	until time.Time
}

const (
	freeTries   = 3
	longestWait = 5 * time.Minute
	forgetAfter = time.Hour
	mostTracked = 10_000
)

// wait returns how long the next try of any of the keys has to wait.
func (s *slowdown) wait(now time.Time, keys ...string) time.Duration {
	s.mu.Lock()
	defer s.mu.Unlock()
	var longest time.Duration
	for _, k := range keys {
		longest = max(longest, s.failed[strings.ToLower(k)].until.Sub(now))
	}
	return longest
}

// fail counts a failure of each of the keys.
func (s *slowdown) fail(now time.Time, keys ...string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.failed == nil || len(s.failed) > mostTracked {
		s.failed = map[string]failures{}
	}
	for _, k := range keys {
		k = strings.ToLower(k)
		f := s.failed[k]
		if now.Sub(f.until) > forgetAfter {
			f.count = 0
		}
		f.count++
		f.until = now
		if over := f.count - freeTries; over >= 0 {
			f.until = now.Add(min(time.Second<<min(over, 20), longestWait))
		}
		s.failed[k] = f
	}
}

// succeed forgets the failures of the keys.
func (s *slowdown) succeed(keys ...string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, k := range keys {
		delete(s.failed, strings.ToLower(k))
	}
}
