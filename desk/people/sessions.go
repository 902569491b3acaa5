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

// SessionEnds is how long a session lasts at most.
const SessionEnds = 14 * 24 * time.Hour

// seenEvery is how exactly it is kept when a session was used last: each note is a write.
const seenEvery = 10 * time.Minute

// mostSessions bounds what is remembered of sessions.
const mostSessions = 4096

// Begin notes that somebody has signed in, with what their browser calls itself, and returns the number of
// the session.
func (d *Desk) Begin(who access.Person, agent string) (uint, error) {
	now := d.Now()
	one := store.SignedIn{PersonID: who.ID, Since: now, SeenAt: now, Browser: BrowserOf(agent)}
	err := d.Store.Tx(func(s store.Records) error { return s.AddSignedIn(&one) })
	return one.ID, err
}

// BrowserOf is what people call a browser, such as Firefox on Windows.
func BrowserOf(agent string) string {
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
	ended := d.ended[session]
	d.mu.Unlock()
	if ended {
		return access.Person{}, false, nil
	}
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
	if !d.remember(session, seen) {
		return access.Person{}, false, nil
	}
	return who.In(session), true, nil
}

// remember notes that a session goes on, unless it has been ended meanwhile.
func (s *shared) remember(session uint, seen time.Time) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.ended[session] {
		return false
	}
	if len(s.seen) >= mostSessions {
		clear(s.seen)
	}
	s.seen[session] = seen
	return true
}

// aboutEnded is what programs tell each other sessions under that were ended.
const aboutEnded = "session ended"

// hear says what is done about sessions that other programs ended. A program may have ended before it told of one: every
// two seconds the records are asked anew.
func (d *Desk) hear() {
	access.Heard(d.House, aboutEnded, func(_ string, session uint) { d.shared.end(session) })
	forget := func() {
		d.mu.Lock()
		defer d.mu.Unlock()
		clear(d.seen)
	}
	d.Missed(forget)
	d.Gone(func([]string) { forget() })
}

// end ends a session in all programs of the house.
func (d *Desk) end(session uint) {
	d.shared.end(session)
	d.Tell(aboutEnded, session)
}

// end has a session not go on: a request that has just found it in the records does not bring it back.
func (s *shared) end(session uint) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.ended) >= mostSessions {
		clear(s.ended) // they are long gone from the records
	}
	s.ended[session] = true
	delete(s.seen, session)
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
	if err == nil {
		d.end(session)
	}
	d.Rooms.NotifyAll()
	return err
}

// SignedOut notes that whoever is at the desk has signed out of the session that they are in.
func (d *Desk) SignedOut() error {
	session := d.Person.Session()
	if session == 0 {
		return nil
	}
	d.end(session)
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
	return d.Store.Tx(func(s store.Records) error { return s.DropSignedInBefore(d.Now().Add(-SessionEnds)) })
}
