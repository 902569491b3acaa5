package postgres

import (
	"context"
	"fmt"
	"slices"

	"github.com/jackc/pgx/v5"
)

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

// hereLock is the lock that each program shares that works on a house: it tells which those are.
const hereLock = "mivlet here"

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
