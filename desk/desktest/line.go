package desktest

import (
	"context"
	"slices"
	"sync"
)

// Line is what programs of a house hear each other by, in memory.
type Line struct {
	mu     sync.Mutex
	all    []*Fellow
	moment int64
}

// Fellow is one program among those of a house. It implements [mivlet/store.Fellows].
type Fellow struct {
	line  *Line
	name  string
	heard chan [2]string
}

// Join adds a program.
func (l *Line) Join(name string) *Fellow {
	l.mu.Lock()
	defer l.mu.Unlock()
	f := &Fellow{l, name, make(chan [2]string, 100)}
	l.all = append(l.all, f)
	return f
}

// Leave ends a program without a warning.
func (f *Fellow) Leave() {
	f.line.mu.Lock()
	defer f.line.mu.Unlock()
	f.line.all = slices.DeleteFunc(f.line.all, func(o *Fellow) bool { return o == f })
}

// Self implements [mivlet/store.Fellows].
func (f *Fellow) Self() string { return f.name }

// Programs implements [mivlet/store.Fellows].
func (f *Fellow) Programs(context.Context) (all []string, err error) {
	f.line.mu.Lock()
	defer f.line.mu.Unlock()
	for _, o := range f.line.all {
		all = append(all, o.name)
	}
	return all, nil
}

// Moment implements [mivlet/store.Fellows].
func (f *Fellow) Moment() (int64, error) {
	f.line.mu.Lock()
	defer f.line.mu.Unlock()
	f.line.moment++
	return f.line.moment, nil
}

// Tell implements [mivlet/store.Fellows].
func (f *Fellow) Tell(text string) error {
	f.line.mu.Lock()
	defer f.line.mu.Unlock()
	for _, o := range f.line.all {
		if o != f {
			o.heard <- [2]string{f.name, text}
		}
	}
	return nil
}

// Hear implements [mivlet/store.Fellows].
func (f *Fellow) Hear(ctx context.Context, heard func(from, text string), missed func(context.Context)) {
	missed(ctx)
	for {
		select {
		case <-ctx.Done():
			return
		case said := <-f.heard:
			heard(said[0], said[1])
		}
	}
}

// Alone implements [mivlet/store.Fellows].
func (f *Fellow) Alone(ctx context.Context, _ string, do func(context.Context)) { do(ctx) }
