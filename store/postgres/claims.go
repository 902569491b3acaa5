package postgres

import (
	"context"
	"slices"

	"github.com/jackc/pgx/v5"
)

// A claim is that somebody wants a duty of a house. It holds the duty's lock from when mine is closed until gone
// is, or until it is released.
type claim struct {
	duty, house string
	mine, gone  chan struct{}
	holds, over bool
}

func (c *claim) same(o *claim) bool { return c.duty == o.duty && c.house == o.house }

// lose tells that the lock of a claim is nobody's any more. Whoever had it releases the claim.
func (c *claim) lose() {
	if c.holds {
		c.holds, c.over = false, true
		close(c.gone)
	}
}

// claimed adds a claim.
func claimed(at Address, duty string) *claim {
	c := &claim{duty: duty, house: at.House, mine: make(chan struct{}), gone: make(chan struct{})}
	use(at.URL, func(h *hub) { h.claims = append(h.claims, c) })
	return c
}

// release takes a claim back. Its lock is given back soon.
func release(at Address, c *claim) {
	use(at.URL, func(h *hub) {
		h.claims = slices.DeleteFunc(h.claims, func(o *claim) bool { return o == c })
		if c.holds {
			h.released = append(h.released, c)
		}
		c.over = true
	})
}

// free are the claims that may be tried: those whose duty nobody in this program has.
func (h *hub) free() (all []*claim) {
	for _, c := range h.claims {
		taken := func(o *claim) bool { return o.same(c) && o != c && (o.holds || slices.Contains(all, o)) }
		if !c.holds && !c.over && !slices.ContainsFunc(h.claims, taken) {
			all = append(all, c)
		}
	}
	return all
}

// try tries to get the locks of claims, all at once.
func (h *hub) try(ctx context.Context, conn *pgx.Conn, claims []*claim) error {
	if len(claims) == 0 {
		return nil
	}
	var duties, houses []string
	for _, c := range claims {
		duties, houses = append(duties, "mivlet "+c.duty), append(houses, c.house)
	}
	rows, err := conn.Query(ctx, "SELECT pg_try_advisory_lock(hashtext(duty), hashtext(house)) FROM unnest($1::text[], $2::text[]) WITH ORDINALITY AS all_of(duty, house, nth) ORDER BY nth", duties, houses)
	if err != nil {
		return err
	}
	got, err := pgx.CollectRows(rows, pgx.RowTo[bool])
	if err != nil {
		return err
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for i, c := range claims {
		switch {
		case !got[i]:
		case c.over: // it was taken back meanwhile
			h.released = append(h.released, c)
		default:
			c.holds = true
			close(c.mine)
		}
	}
	return nil
}

// giveBack gives the locks of claims back.
func giveBack(ctx context.Context, conn *pgx.Conn, claims []*claim) error {
	for _, c := range claims {
		if _, err := conn.Exec(ctx, "SELECT pg_advisory_unlock(hashtext($1), hashtext($2))", "mivlet "+c.duty, c.house); err != nil {
			return err
		}
	}
	return nil
}
