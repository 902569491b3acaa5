package postgres

import (
	"context"
	"errors"
	"log/slog"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
)

// A hub is the one connection by which a program hears others, holds duties and is seen, for all houses that
// it has open in a database. It lasts as long as somebody uses it.
type hub struct {
	url string
	end context.CancelFunc

	mu        sync.Mutex
	open      []*opened
	ears      []*ear
	claims    []*claim
	released  []*claim // whose locks are to be given back
	questions []*question
	interrupt context.CancelFunc // of what waits for news; nil while nothing does
}

var hubs struct {
	sync.Mutex
	by map[string]*hub
}

// use changes something in the hub of a database, which begins with its first user and ends after the last one.
func use(url string, change func(h *hub)) {
	hubs.Lock()
	defer hubs.Unlock()
	h := hubs.by[url]
	if h == nil {
		h = &hub{url: url}
		var ctx context.Context
		ctx, h.end = context.WithCancel(context.Background())
		if hubs.by == nil {
			hubs.by = map[string]*hub{}
		}
		hubs.by[url] = h
		go h.run(ctx)
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	change(h)
	if h.interrupt != nil {
		h.interrupt()
	}
	if len(h.open)+len(h.ears)+len(h.claims) == 0 {
		h.end() // with it go the locks that are still to be given back
		delete(hubs.by, url)
	}
}

// run keeps a connection until nobody uses the hub any more.
func (h *hub) run(ctx context.Context) {
	for told := false; ctx.Err() == nil; wait(ctx, again) {
		err := h.connected(ctx, func() { told = false })
		h.lost()
		if err != nil && ctx.Err() == nil && !told {
			told = true
			slog.Warn("the connection to the other programs broke off; it is tried again", "error", err)
		}
	}
}

// connected listens, and settles what is wanted, as long as the connection holds.
func (h *hub) connected(ctx context.Context, made func()) error {
	config, err := configOf(h.url)
	if err != nil {
		return err
	}
	config.ConnConfig.ConnectTimeout = 5 * pulse
	c, err := pgx.ConnectConfig(ctx, config.ConnConfig)
	if err != nil {
		return err
	}
	defer func() {
		soon, stop := context.WithTimeout(context.WithoutCancel(ctx), pulse)
		defer stop()
		_ = c.Close(soon)
	}()
	made()
	var here []string
	for {
		soon, stop := context.WithTimeout(ctx, 5*pulse)
		err := h.settle(soon, c, &here)
		stop()
		if err != nil {
			return err
		}
		if err := h.news(ctx, c); err != nil || ctx.Err() != nil {
			return err
		}
	}
}

// news hears what others tell, for a while or until something else is wanted.
func (h *hub) news(ctx context.Context, c *pgx.Conn) error {
	soon, stop := context.WithTimeout(ctx, pulse)
	defer stop()
	h.mu.Lock()
	h.interrupt = stop
	h.mu.Unlock()
	defer func() {
		h.mu.Lock()
		h.interrupt = nil
		h.mu.Unlock()
	}()
	for {
		told, err := c.WaitForNotification(soon)
		if err != nil {
			if soon.Err() != nil {
				return nil
			}
			return err
		}
		from, text, _ := strings.Cut(told.Payload, " ")
		if from == program {
			continue
		}
		h.mu.Lock()
		for _, e := range h.ears {
			if line(e.house) == told.Channel && e.hears {
				e.add(news{from: from, text: text})
			}
		}
		h.mu.Unlock()
	}
}

// settle does what is wanted of the connection, and makes sure that it holds: here are the houses for which it
// listens.
func (h *hub) settle(ctx context.Context, c *pgx.Conn, here *[]string) error {
	h.mu.Lock()
	var wanted []string
	for _, e := range h.ears {
		wanted = append(wanted, e.house)
	}
	for _, o := range h.open {
		wanted = append(wanted, o.house)
	}
	slices.Sort(wanted)
	wanted = slices.Compact(wanted)
	ears, open := slices.Clone(h.ears), slices.Clone(h.open)
	released := h.released
	h.released = nil
	claims := h.free()
	questions := h.questions
	h.questions = nil
	h.mu.Unlock()

	err := h.listen(ctx, c, *here, wanted)
	if err == nil {
		*here = wanted
		h.mu.Lock()
		for _, e := range ears {
			if !e.hears {
				e.hears = true
				e.add(news{missed: true})
			}
		}
		for _, o := range open {
			o.tell()
		}
		h.mu.Unlock()
		err = errors.Join(giveBack(ctx, c, released), h.try(ctx, c, claims))
	}
	if err != nil {
		for _, q := range questions {
			close(q.answer)
		}
		return err
	}
	return answer(ctx, c, questions)
}

// listen listens for the houses that are wanted, and no longer for others.
func (h *hub) listen(ctx context.Context, c *pgx.Conn, here, wanted []string) error {
	var do []string
	var come, gone []string
	for _, house := range wanted {
		if !slices.Contains(here, house) {
			do, come = append(do, "LISTEN "+pgx.Identifier{line(house)}.Sanitize()), append(come, house)
		}
	}
	for _, house := range here {
		if !slices.Contains(wanted, house) {
			do, gone = append(do, "UNLISTEN "+pgx.Identifier{line(house)}.Sanitize()), append(gone, house)
		}
	}
	if len(do) == 0 {
		return c.Ping(ctx)
	}
	if _, err := c.PgConn().Exec(ctx, strings.Join(do, ";")).ReadAll(); err != nil {
		return err
	}
	_, err := c.Exec(ctx, "SELECT pg_advisory_lock_shared(hashtext($1), hashtext(house)) FROM unnest($2::text[]) AS all_of(house)", hereLock, come)
	if err == nil {
		_, err = c.Exec(ctx, "SELECT pg_advisory_unlock_shared(hashtext($1), hashtext(house)) FROM unnest($2::text[]) AS all_of(house)", hereLock, gone)
	}
	return err
}

// lost tells all who used the connection that it broke off.
func (h *hub) lost() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, e := range h.ears {
		e.hears = false
	}
	for _, o := range h.open {
		o.tell()
	}
	for _, c := range h.claims {
		c.lose()
	}
	h.released = nil
	for _, q := range h.questions {
		close(q.answer)
	}
	h.questions = nil
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
