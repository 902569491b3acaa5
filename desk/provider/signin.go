package provider

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

// TripsLast is how long somebody may take to sign in at the provider.
const TripsLast = 10 * time.Minute

// mostTrips bounds how many are on the way: the one that began first is given up for another.
const mostTrips = 2000

// trips are those who are on their way.
type trips struct {
	mu    sync.Mutex
	under map[string]trip // by state

	found   Provider // as it answered last
	foundBy Client
	foundAt time.Time
}

// foundFor is how long what a provider told of itself is taken to hold: whoever asks at the door does not
// have it asked each time.
const foundFor = 10 * time.Minute

// find finds a provider, unless it was found lately.
func (d *Desk) find(ctx context.Context, c Client) (Provider, error) {
	now := d.Now()
	d.mu.Lock()
	found, by, at := d.found, d.foundBy, d.foundAt
	d.mu.Unlock()
	if found != nil && by == c && now.Sub(at) < foundFor {
		return found, nil
	}
	found, err := d.open(ctx, c)
	if err == nil {
		d.mu.Lock()
		d.found, d.foundBy, d.foundAt = found, c, now
		d.mu.Unlock()
	}
	return found, err
}

type trip struct {
	Trip
	browser [sha256.Size]byte // hash of what the browser keeps
	back    string
	next    string
	ends    time.Time
}

// Begin sends somebody to the provider: to address. The browser keeps mark until they come back, so that
// nobody comes back with what somebody else began. back is where they come back to, next what they
// wanted to see.
func (d *Desk) Begin(ctx context.Context, back, next string) (address, mark string, err error) {
	p, provider, err := d.provider(ctx, back)
	if err != nil {
		return "", "", err
	}
	mark = rand.Text()
	t := trip{Trip{rand.Text(), rand.Text(), rand.Text() + rand.Text()}, sha256.Sum256([]byte(mark)), back, next, d.Now().Add(TripsLast)}
	if address = provider.Address(t.Trip); address == "" {
		return "", "", unreachable(p, errors.New("no address to sign in at"))
	}
	d.leave(t)
	return address, mark, nil
}

func (t *trips) leave(one trip) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for len(t.under) >= mostTrips {
		first := ""
		for state, other := range t.under {
			if first == "" || other.ends.Before(t.under[first].ends) {
				first = state
			}
		}
		delete(t.under, first)
	}
	t.under[one.State] = one
}

// arrive takes a trip out: nobody comes back twice.
func (t *trips) arrive(state, mark string, now time.Time) (trip, bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	one, known := t.under[state]
	sum := sha256.Sum256([]byte(mark))
	if !known || subtle.ConstantTimeCompare(one.browser[:], sum[:]) != 1 {
		return trip{}, false
	}
	delete(t.under, state)
	return one, now.Before(one.ends)
}

// provider finds the provider of the house.
func (d *Desk) provider(ctx context.Context, back string) (store.Provider, Provider, error) {
	p, err := d.Store.Provider()
	if errors.Is(err, store.ErrNotFound) || err == nil && d.open == nil {
		return p, nil, access.Refuse(access.Missing, "This house takes no accounts from elsewhere.", "Sign in with name and password.")
	}
	if err != nil {
		return p, nil, err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return p, nil, err
	}
	secret, err := key.Open(p.Secret, purpose(p))
	if err != nil {
		return p, nil, access.Because(access.Clash, "The secret of "+p.Title+" cannot be read: it was kept with another key.", "A keeper enters it again.", err)
	}
	provider, err := d.find(ctx, Client{p.Issuer, p.ClientID, string(secret), back, p.Claim})
	if err != nil {
		return p, nil, access.Because(access.Clash, p.Title+" does not answer.", "Try again in a while, or sign in with name and password.", err)
	}
	return p, provider, nil
}

// Finish lets somebody in who comes back from the provider with a code, in the browser that began. It
// returns what they wanted to see. from is where they come from.
func (d *Desk) Finish(ctx context.Context, state, code, mark, from string) (who access.Person, next string, err error) {
	t, ok := d.arrive(state, mark, d.Now())
	if !ok {
		return who, "", access.Refuse(access.Bad, "This sign-in was begun elsewhere, or too long ago.", "Begin again.")
	}
	p, provider, err := d.provider(ctx, t.back)
	if err != nil {
		return who, t.next, err
	}
	claims, err := provider.Claims(ctx, t.Trip, code)
	if err == nil && claims.Subject == "" {
		err = errors.New("it names nobody")
	}
	if err != nil {
		failed := d.TraceAs(access.Person{Name: "Nobody signed in"}, d.Store, "", "A sign-in with an account of %s failed, from %s", p.Title, from)
		return who, t.next, errors.Join(access.Because(access.Bad, p.Title+" did not confirm who you are.", "Begin again.", err), failed)
	}
	err = d.Store.Tx(func(s store.Records) error {
		who, err = d.letIn(s, p, claims, from)
		return err
	})
	return who, t.next, err
}

// letIn finds whose account it is, or makes one, and gives them what their groups may do.
func (d *Desk) letIn(s store.Records, p store.Provider, c Claims, from string) (who access.Person, err error) {
	person, err := d.personOf(s, p, c)
	if err != nil {
		return who, err
	}
	if person.Away || person.Keeper {
		failed := d.TraceAs(access.Person{Name: "Nobody signed in"}, s, "", "A sign-in with an account of %s failed: %s, from %s", p.Title, person.Login, from)
		if failed != nil {
			return who, failed
		}
		if person.Keeper {
			return who, access.Refuse(access.Forbidden, "Keepers of the house sign in with their password.", "So nobody keeps it who only keeps the accounts elsewhere.")
		}
		return who, access.Refuse(access.Forbidden, "Your account may no longer sign in.", "Ask a keeper of the house.")
	}
	isNew, before := person.ID == 0, rolesOf(person)
	if isNew {
		if err := d.RoomForPerson(s); err != nil {
			return who, err
		}
	}
	person.Issuer, person.Subject = c.Issuer, c.Subject
	if len(p.Groups) > 0 {
		person.Roles = d.rolesBy(p.Groups, c.Groups)
	}
	if err := s.SavePerson(&person); err != nil {
		if errors.Is(err, store.ErrTaken) {
			return who, taken(person.Login, err)
		}
		return who, err
	}
	who = access.PersonOf(person)
	switch after := rolesOf(person); {
	case isNew:
		return who, d.TraceAs(who, s, "", "Came in for the first time with an account of %s: %s", p.Title, after)
	case after != before:
		return who, d.TraceAs(who, s, "", "Signed in with an account of %s; the groups there say: %s", p.Title, after)
	}
	return who, d.TraceAs(who, s, "", "Signed in with an account of %s", p.Title)
}

// personOf returns whose account it is: the one that came with it before, else the one whose sign-in name
// is the address that the provider has verified, else a new one, where the house lets newcomers in.
func (d *Desk) personOf(s store.Records, p store.Provider, c Claims) (store.Person, error) {
	person, err := s.PersonBySubject(c.Issuer, c.Subject)
	if !errors.Is(err, store.ErrNotFound) {
		return person, err
	}
	email := strings.TrimSpace(c.Email)
	if email != "" {
		person, err := s.PersonByLogin(email)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return person, err
		}
		if err == nil {
			if !c.Verified || person.Subject != "" {
				return person, taken(email, nil)
			}
			return person, nil
		}
	}
	if !p.NewComer {
		return person, access.Refuse(access.Forbidden, "You have no account in this house yet.", "Ask a keeper for one, with the address "+words.VisibleLine(email, 60)+" as sign-in name.")
	}
	if !c.Verified || !access.IsLogin(email) {
		return person, access.Refuse(access.Forbidden, p.Title+" tells no address of yours that it has verified.", "Ask a keeper of this house for an account.")
	}
	name := words.VisibleLine(c.Name, access.MostName)
	if name == "" {
		name = email
	}
	return store.Person{Name: name, Login: email, CreatedAt: d.Now()}, nil
}

func taken(login string, err error) error {
	return access.Because(access.Forbidden, fmt.Sprintf("%s is the sign-in name of another account here.", words.VisibleLine(login, 60)), "Sign in with its password, or ask a keeper of the house.", err)
}

// rolesBy are the roles that groups have; of two in one section, the higher one.
func (d *Desk) rolesBy(rules []store.GroupRole, groups []string) (all []store.Role) {
	for _, r := range rules {
		if _, known := d.Rules().Section(r.Section); !known || !slices.Contains(groups, r.Group) {
			continue
		}
		at := slices.IndexFunc(all, func(o store.Role) bool { return o.Section == r.Section })
		switch {
		case at < 0:
			all = append(all, store.Role{Section: r.Section, Role: r.Role})
		case r.Role == string(access.Publisher):
			all[at].Role = r.Role
		}
	}
	return all
}

func rolesOf(p store.Person) string {
	var all []string
	for _, r := range p.Roles {
		all = append(all, r.Role+" of "+r.Section)
	}
	if len(all) == 0 {
		return "can only look"
	}
	slices.Sort(all)
	return strings.Join(all, ", ")
}
