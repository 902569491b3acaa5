package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"mivlet/desk/access"
	"mivlet/store"
)

// Single is a kind of jobs that are kept, of which one goes on at a time about each thing: whichever program of
// the house does it, and however often it was started again since.
type Single[T any] struct {
	kind string
	in   func(d *Desk, about uint, title string, tasks []Of[T]) (*Job, error)
}

// ErrGoesOn means that a job of the same kind goes on about the same thing.
var ErrGoesOn = errors.New("the same is being done already")

// LongSingle is such a kind, whose tasks are as those of [LongKind].
func LongSingle[T any](d *Desk, kind string, do func(ctx context.Context, j *Job, s *access.Seat, of T) error) Single[T] {
	return Single[T]{kind, longKind(d, kind, do)}
}

// Begin begins a job about something, whose number is not 0. It returns [ErrGoesOn] where one goes on.
func (k Single[T]) Begin(d *Desk, about uint, title string, tasks []Of[T]) (*Job, error) {
	j, err := k.in(d, about, title, tasks)
	if errors.Is(err, store.ErrTaken) {
		return nil, fmt.Errorf("%w: %s", ErrGoesOn, title)
	}
	return j, err
}

// Going is the job that goes on about something; 0 where none does.
func (k Single[T]) Going(d *Desk, about uint) (uint, error) {
	last, err := k.last(d, about)
	if err != nil || last.EndedAt != nil {
		return 0, err
	}
	return last.ID, nil
}

// ToTell is the job about something while it goes on, and after it has ended where something of it failed; else 0.
func (k Single[T]) ToTell(d *Desk, about uint) (uint, error) {
	last, err := k.last(d, about)
	if err != nil || last.EndedAt != nil && len(last.Failed) == 0 {
		return 0, err
	}
	return last.ID, nil
}

// Task is what the first task of a job of the kind is done with.
func (k Single[T]) Task(d *Desk, id uint) (of T, err error) {
	j, err := d.Store.Job(id)
	if err == nil && len(j.Tasks) > 0 {
		err = json.Unmarshal(j.Tasks[0].Of, &of)
	}
	return of, err
}

// last is the newest job about something; a job without a number where there was none.
func (k Single[T]) last(d *Desk, about uint) (store.Job, error) {
	last, err := d.Store.LastJob(k.kind, about)
	if errors.Is(err, store.ErrNotFound) {
		return store.Job{}, nil
	}
	return last, err
}
