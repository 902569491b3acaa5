package provider

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/json"
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

// mostEnded bounds what is remembered of trips that have ended.
const mostEnded = 2000

// known is what all desks share: the provider as it answered last, and which trips have ended.
type known struct {
	mu    sync.Mutex
	ended *access.Recent[bool] // by state

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

// trip is a way to the provider and back. The browser keeps it meanwhile, sealed by the house: whichever of its programs
// they come back to can read it, and the house keeps nothing of who only asks.
type trip struct {
	State    string    `json:"state"`
	Nonce    string    `json:"nonce"`
	Verifier string    `json:"verifier"`
	Back     string    `json:"back"`
	Next     string    `json:"next"`
	Ends     time.Time `json:"ends"`
}

// purposeOfTrips is what they are sealed for.
const purposeOfTrips = "way to the provider"

// mostNext is how long an address may be that somebody wanted to see, in bytes: a cookie holds no more than some thousands.
const mostNext = 1000

// Begin sends somebody to the provider: to address. The browser keeps mark until they come back, so that
// nobody comes back with what somebody else began. back is where they come back to, next what they
// wanted to see.
func (d *Desk) Begin(ctx context.Context, back, next string) (address, mark string, err error) {
	p, provider, err := d.provider(ctx, back)
	if err != nil {
		return "", "", err
	}
	if len(next) > mostNext {
		next = ""
	}
	t := trip{rand.Text(), rand.Text(), rand.Text() + rand.Text(), back, next, d.Now().Add(TripsLast)}
	if address = provider.Address(t.trip()); address == "" {
		return "", "", unreachable(p, errors.New("no address to sign in at"))
	}
	text, err := json.Marshal(t)
	if err != nil {
		return "", "", err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return "", "", err
	}
	mark, err = key.Seal(text, purposeOfTrips)
	return address, mark, err
}

// trip is what the provider gets to know of it.
func (t trip) trip() Trip { return Trip{t.State, t.Nonce, t.Verifier} }

// arrive reads the trip that a browser has kept: nobody comes back with what somebody else began, nor twice. (The provider
// takes each code once, too, whichever program it is brought by: RFC 6749, 4.1.2.)
func (d *Desk) arrive(state, mark string) (t trip, ok bool) {
	key, err := d.sealer.Sealer()
	if err != nil {
		return t, false
	}
	text, err := key.Open(mark, purposeOfTrips)
	if err != nil || json.Unmarshal(text, &t) != nil || t.State == "" || subtle.ConstantTimeCompare([]byte(t.State), []byte(state)) != 1 {
		return trip{}, false
	}
	return t, d.Now().Before(t.Ends) && d.ended.Add(t.State, true)
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
	t, ok := d.arrive(state, mark)
	if !ok {
		return who, "", access.Refuse(access.Bad, "This sign-in was begun elsewhere, or too long ago.", "Begin again.")
	}
	p, provider, err := d.provider(ctx, t.Back)
	if err != nil {
		return who, t.Next, err
	}
	claims, err := provider.Claims(ctx, t.trip(), code)
	if err == nil && claims.Subject == "" {
		err = errors.New("it names nobody")
	}
	if err != nil {
		failed := d.TraceAs(access.Person{Name: "Nobody signed in"}, d.Store, "", "A sign-in with an account of %s failed, from %s", p.Title, from)
		return who, t.Next, errors.Join(access.Because(access.Bad, p.Title+" did not confirm who you are.", "Begin again.", err), failed)
	}
	err = d.Store.Tx(func(s store.Records) error {
		who, err = d.letIn(s, p, claims, from)
		return err
	})
	return who, t.Next, err
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
