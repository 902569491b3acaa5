package postgres

import (
	"context"
	"errors"
	"fmt"
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

// opened is a house that is open.
type opened struct {
	house string
	seen  chan struct{} // closed as soon as others see the program there, or it is known that they cannot
}

// come has others see that the program works on a house, and waits until they do: what it begins is not taken for
// that of a program that has ended. Where the database is away, it does not wait. It returns what ends it.
func come(ctx context.Context, at Address) (leave func()) {
	o := &opened{at.House, make(chan struct{})}
	use(at.URL, func(h *hub) { h.open = append(h.open, o) })
	soon, stop := context.WithTimeout(ctx, 5*pulse)
	defer stop()
	select {
	case <-o.seen:
	case <-soon.Done():
	}
	return func() {
		use(at.URL, func(h *hub) { h.open = slices.DeleteFunc(h.open, func(other *opened) bool { return other == o }) })
	}
}

// tell tells, once, that there is nothing to wait for any more.
func (o *opened) tell() {
	select {
	case <-o.seen:
	default:
		close(o.seen)
	}
}

// A question is which programs work on a house now.
type question struct {
	house  string
	answer chan []string // closed without one where the connection broke off
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

// ask asks which programs work on a house. It returns false where no hub is there for it, or none that is
// connected.
func ask(ctx context.Context, url, house string) ([]string, bool) {
	hubs.Lock()
	h := hubs.by[url]
	hubs.Unlock()
	if h == nil {
		return nil, false
	}
	q := &question{house, make(chan []string, 1)}
	h.mu.Lock()
	there := slices.ContainsFunc(h.ears, func(e *ear) bool { return e.house == house && e.hears })
	if there {
		h.questions = append(h.questions, q)
	}
	h.mu.Unlock()
	if !there {
		return nil, false
	}
	select {
	case <-ctx.Done():
		return nil, false
	case programs, ok := <-q.answer:
		return programs, ok
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

// hereLock is the lock that each program shares that works on a house: it tells which those are.
const hereLock = "mivlet here"

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

// programsOf asks for the programs that work on houses: those that hold the lock of one, those of an earlier version
// that are connected to one, and those of which a connection did something there within a minute: while the one
// with the locks is made anew, nobody takes what they do.
const programsOf = `
	WITH wanted AS (SELECT house FROM unnest(%s::text[]) AS all_of(house)),
	programs AS (SELECT pid, split_part(application_name, ' ', 2) AS program, split_part(application_name, ' ', 3) AS house,
		split_part(application_name, ' ', 4) = '' OR state_change > now() - interval '1 minute' AS counts
		FROM pg_stat_activity WHERE datname = current_database() AND application_name LIKE 'mivlet %%')
	SELECT wanted.house, program FROM wanted JOIN programs USING (house) WHERE counts
	UNION SELECT wanted.house, program FROM wanted JOIN pg_locks ON locktype = 'advisory' AND granted AND objsubid = 2
		AND classid = hashtext('` + hereLock + `')::oid AND objid = hashtext(wanted.house)::oid
		AND database = (SELECT oid FROM pg_database WHERE datname = current_database()) JOIN programs USING (pid)
	ORDER BY 1, 2`

// answer answers questions, all with one look.
func answer(ctx context.Context, c *pgx.Conn, questions []*question) error {
	if len(questions) == 0 {
		return nil
	}
	var houses []string
	for _, q := range questions {
		houses = append(houses, q.house)
	}
	found := map[string][]string{}
	rows, err := c.Query(ctx, fmt.Sprintf(programsOf, "$1"), houses)
	if err == nil {
		var house, program string
		_, err = pgx.ForEachRow(rows, []any{&house, &program}, func() error {
			if !slices.Contains(found[house], program) {
				found[house] = append(found[house], program)
			}
			return nil
		})
	}
	for _, q := range questions {
		if err == nil {
			q.answer <- found[q.house]
		}
		close(q.answer)
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
