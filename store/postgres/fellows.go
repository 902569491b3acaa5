package postgres

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

// Fellows are the programs that are connected to the same house. They hear each other by LISTEN and NOTIFY
// (PostgreSQL, NOTIFY), and one of them at a time has the lock of a duty, which the database takes back when
// its connection ends.
type Fellows struct {
	at Address
	db *gorm.DB
}

var _ store.Fellows = (*Fellows)(nil)

// Fellows are the other programs that work on the house.
func (db *DB) Fellows() *Fellows { return &Fellows{db.at, db.read} }

const (
	// pulse is how often it is made sure that a connection still holds.
	pulse = time.Second
	// again is how long it is waited before another connection is tried.
	again = 500 * time.Millisecond
)

// Self implements [store.Fellows].
func (f *Fellows) Self() string { return program }

// Programs implements [store.Fellows].
func (f *Fellows) Programs(ctx context.Context) (all []string, err error) {
	if all, ok := ask(ctx, f.at.URL, f.at.House); ok {
		return all, nil
	}
	var rows []struct{ House, Program string }
	if err := f.db.WithContext(ctx).Raw(fmt.Sprintf(programsOf, "ARRAY[?]"), f.at.House).Scan(&rows).Error; err != nil {
		return nil, err
	}
	for _, r := range rows {
		all = append(all, r.Program)
	}
	return all, nil
}

// line is the channel of a house.
func line(house string) string { return "mivlet_" + house }

// Moment implements [store.Fellows].
func (f *Fellows) Moment() (at int64, err error) {
	return at, f.db.Raw("SELECT (extract(epoch FROM clock_timestamp()) * 1000000)::bigint").Scan(&at).Error
}

// Tell implements [store.Fellows].
func (f *Fellows) Tell(text string) error {
	if len(text) > store.MostTold {
		return fmt.Errorf("%d bytes are more than can be told at once", len(text))
	}
	return f.db.Exec("SELECT pg_notify(?, ?)", line(f.at.House), program+" "+text).Error
}

// Hear implements [store.Fellows].
func (f *Fellows) Hear(ctx context.Context, heard func(from, text string), missed func(context.Context)) {
	e := hearing(f.at)
	defer deaf(f.at, e)
	for ctx.Err() == nil {
		for _, n := range e.next(ctx) {
			if n.missed {
				missed(ctx)
			} else {
				heard(n.from, n.text)
			}
		}
	}
}

// Alone implements [store.Fellows].
func (f *Fellows) Alone(ctx context.Context, duty string, do func(context.Context)) {
	for ctx.Err() == nil {
		f.once(ctx, duty, do)
	}
}

// once does a duty as soon as it is free, until ctx ends or somebody else may do it.
func (f *Fellows) once(ctx context.Context, duty string, do func(context.Context)) {
	c := claimed(f.at, duty)
	defer release(f.at, c)
	select {
	case <-ctx.Done():
		return
	case <-c.mine:
	}
	mine, end := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		do(mine)
	}()
	select {
	case <-ctx.Done():
	case <-c.gone:
	}
	end() // what others may do from now on is not done here
	<-done
}
