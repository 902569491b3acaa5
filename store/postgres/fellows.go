package postgres

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
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
	return all, f.db.WithContext(ctx).Raw("SELECT DISTINCT split_part(application_name, ' ', 2) FROM pg_stat_activity WHERE datname = current_database() AND application_name LIKE 'mivlet %' AND split_part(application_name, ' ', 3) = ?", f.at.House).Scan(&all).Error
}

// line is the channel of a house.
func (f *Fellows) line() string { return "mivlet_" + f.at.House }

// Tell implements [store.Fellows].
func (f *Fellows) Tell(text string) error {
	if len(text) > store.MostTold {
		return fmt.Errorf("%d bytes are more than can be told at once", len(text))
	}
	return f.db.Exec("SELECT pg_notify(?, ?)", f.line(), program+" "+text).Error
}

// Hear implements [store.Fellows].
func (f *Fellows) Hear(ctx context.Context, heard func(from, text string), missed func(context.Context)) {
	f.connected(ctx, func(c *pgx.Conn) error {
		if _, err := c.Exec(ctx, "LISTEN "+pgx.Identifier{f.line()}.Sanitize()); err != nil {
			return err
		}
		missed(ctx)
		for {
			soon, stop := context.WithTimeout(ctx, pulse)
			told, err := c.WaitForNotification(soon)
			stop()
			switch {
			case err == nil:
				if from, text, _ := strings.Cut(told.Payload, " "); from != program {
					heard(from, text)
				}
			case ctx.Err() != nil:
				return nil
			case errors.Is(err, context.DeadlineExceeded):
				if err := holds(ctx, c); err != nil {
					return err
				}
			default:
				return err
			}
		}
	})
}

// holds fails where a connection has ended.
func holds(ctx context.Context, c *pgx.Conn) error {
	soon, stop := context.WithTimeout(ctx, 5*pulse)
	defer stop()
	return c.Ping(soon)
}

// connected has something done with a connection of its own, and again with another one when it fails, until ctx ends.
func (f *Fellows) connected(ctx context.Context, do func(c *pgx.Conn) error) {
	for told := false; ctx.Err() == nil; {
		err := func() error {
			config, err := configOf(f.at)
			if err != nil {
				return err
			}
			config.ConnectTimeout = 5 * pulse
			c, err := pgx.ConnectConfig(ctx, config)
			if err != nil {
				return err
			}
			defer func() { _ = c.Close(context.WithoutCancel(ctx)) }()
			told = false
			return do(c)
		}()
		if err != nil && ctx.Err() == nil && !told {
			told = true
			slog.Warn("the connection to the other programs of the house broke off; it is tried again", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(again):
		}
	}
}

// Alone implements [store.Fellows].
func (f *Fellows) Alone(ctx context.Context, duty string, do func(context.Context)) {
	f.connected(ctx, func(c *pgx.Conn) error {
		for {
			var mine bool
			if err := c.QueryRow(ctx, "SELECT pg_try_advisory_lock(hashtext($1), hashtext($2))", "mivlet "+duty, f.at.House).Scan(&mine); err != nil {
				return err
			}
			if mine {
				break
			}
			if !wait(ctx, pulse) {
				return nil
			}
		}
		mine, end := context.WithCancel(ctx)
		done := make(chan struct{})
		go func() {
			defer close(done)
			do(mine)
		}()
		defer func() { // what others may do from now on is not done here
			end()
			<-done
		}()
		for wait(ctx, pulse) {
			if err := holds(ctx, c); err != nil {
				return err
			}
		}
		return nil
	})
}

// wait waits for a while, and reports whether ctx still holds.
func wait(ctx context.Context, d time.Duration) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(d):
		return true
	}
}
