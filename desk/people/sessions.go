package people

import (
	"fmt"
	"slices"
	"time"

	"github.com/mileusna/useragent"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/store"
)

// sessionEnds is how long a session lasts that nobody uses, at most; see web.
const sessionEnds = 14 * 24 * time.Hour

// seenEvery is how exactly it is kept when a session was used last: each note is a write.
const seenEvery = 10 * time.Minute

// mostSessions bounds what is remembered of sessions.
const mostSessions = 4096

// Begin notes that somebody has signed in, with what their browser calls itself, and returns the number of
// the session.
func (d *Desk) Begin(who access.Person, agent string) (uint, error) {
	now := d.Now()
	one := store.SignedIn{PersonID: who.ID, Since: now, SeenAt: now, Browser: browserOf(agent)}
	err := d.Store.Tx(func(s store.Records) error { return s.AddSignedIn(&one) })
	return one.ID, err
}

// browserOf is what people call a browser, such as Firefox on Windows.
func browserOf(agent string) string {
	ua := useragent.Parse(agent)
	name, system := words.VisibleLine(ua.Name, 30), words.VisibleLine(ua.OS, 30)
	switch {
	case name == "":
		return "a browser"
	case system == "":
		return name
	}
	return name + " on " + system
}

// Continues returns the person of a session, unless it was ended. Session 0 is one of an earlier version
// of the program, which has no number yet.
func (d *Desk) Continues(id uint, epoch int, session uint) (access.Person, bool, error) {
	who, ok, err := d.Returning(id, epoch)
	if err != nil || !ok || session == 0 {
		return who, ok, err
	}
	now := d.Now()
	d.mu.Lock()
	seen, known := d.seen[session]
	d.mu.Unlock()
	if !known {
		all, err := d.Store.SignedIn(id)
		if err != nil {
			return access.Person{}, false, err
		}
		i := slices.IndexFunc(all, func(s store.SignedIn) bool { return s.ID == session })
		if i < 0 {
			return access.Person{}, false, nil
		}
		seen = all[i].SeenAt
	}
	if now.Sub(seen) > seenEvery {
		if err := d.Store.Tx(func(s store.Records) error { return s.SeeSignedIn(session, now) }); err != nil {
			return access.Person{}, false, err
		}
		seen = now
	}
	d.remember(session, seen)
	return who.In(session), true, nil
}

func (s *shared) remember(session uint, seen time.Time) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.seen) >= mostSessions {
		clear(s.seen)
	}
	s.seen[session] = seen
}

// forget has sessions looked for in the records again: all of them where none is named.
func (s *shared) forget(sessions ...uint) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(sessions) == 0 {
		clear(s.seen)
	}
	for _, one := range sessions {
		delete(s.seen, one)
	}
}

// OwnSessions returns where whoever is at the desk is signed in, the one that was used last first.
func (d *Desk) OwnSessions() ([]store.SignedIn, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.SignedIn(d.Person.ID)
}

// EndSession ends one of the sessions of whoever is at the desk.
func (d *Desk) EndSession(session uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	all, err := d.Store.SignedIn(d.Person.ID)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(all, func(s store.SignedIn) bool { return s.ID == session })
	if i < 0 {
		return access.Refuse(access.Missing, "That session has ended already.", "Look at those that are left.")
	}
	err = d.Store.Tx(func(s store.Records) error {
		if err := s.EndSignedIn(d.Person.ID, session); err != nil {
			return err
		}
		return d.Trace(s, "", "Ended an own session (%s)", all[i].Browser)
	})
	d.forget(session)
	d.Rooms.NotifyAll()
	return err
}

// SignedOut notes that whoever is at the desk has signed out of the session that they are in.
func (d *Desk) SignedOut() error {
	session := d.Person.Session()
	if session == 0 {
		return nil
	}
	defer d.forget(session)
	return d.Store.Tx(func(s store.Records) error { return s.EndSignedIn(d.Person.ID, session) })
}

// endAll forgets all sessions of a person, whose epoch counts up with that.
func (d *Desk) endAll(s store.Records, p store.Person) error {
	if err := s.EndSignedIn(p.ID, 0); err != nil {
		return fmt.Errorf("the sessions of person %d: %w", p.ID, err)
	}
	return nil
}

// TidySessions forgets sessions that nobody can be in any more.
func (d *Desk) TidySessions() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error { return s.DropSignedInBefore(d.Now().Add(-sessionEnds)) })
}
