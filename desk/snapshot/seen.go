package snapshot

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"mivlet/desk/access"
	"mivlet/store"
)

// Seen is what somebody saw of a page when they signed it: the version of its draft,
// of the house rules, of every picture on it and of every album.
type Seen struct {
	Page     int
	Rules    uint // the stamp of those that held
	Pictures map[uint]int
	Albums   map[uint]int
}

// Seen is what whoever looks at the page now would sign.
func (n *Snapshot) Seen() Seen {
	v := Seen{n.Version, n.House.Stamp(), map[uint]int{}, map[uint]int{}}
	for id, pic := range n.Pictures {
		v.Pictures[id] = pic.Version
	}
	for _, id := range n.Doc.Albums() {
		v.Albums[id] = n.albums[id]
	}
	return v
}

// String writes it as a form carries it: 12.3.5-7.6-2 is version 12 of the page under
// version 3 of the rules, with picture 5 in its version 7 and picture 6 in its second; an album
// stands behind the letter a.
func (v Seen) String() string {
	parts := []string{strconv.Itoa(v.Page), strconv.FormatUint(uint64(v.Rules), 10)}
	for _, id := range slices.Sorted(maps.Keys(v.Pictures)) {
		parts = append(parts, fmt.Sprintf("%d-%d", id, v.Pictures[id]))
	}
	for _, id := range slices.Sorted(maps.Keys(v.Albums)) {
		parts = append(parts, fmt.Sprintf("a%d-%d", id, v.Albums[id]))
	}
	return strings.Join(parts, ".")
}

// ParseSeen reads what [Seen.String] wrote. What is none gives the zero value, which
// nobody has seen.
func ParseSeen(text string) Seen {
	parts := strings.Split(text, ".")
	if len(parts) < 2 {
		return Seen{}
	}
	v := Seen{Pictures: map[uint]int{}, Albums: map[uint]int{}}
	var err error
	read := func(s string) uint64 {
		n, bad := strconv.ParseUint(s, 10, 31)
		err = errors.Join(err, bad)
		return n
	}
	v.Page, v.Rules = int(read(parts[0])), uint(read(parts[1]))
	for _, part := range parts[2:] {
		of := v.Pictures
		part, album := strings.CutPrefix(part, "a")
		if album {
			of = v.Albums
		}
		id, n, _ := strings.Cut(part, "-")
		of[uint(read(id))] = int(read(n))
	}
	if err != nil {
		return Seen{}
	}
	return v
}

// ErrNotSeen refuses to publish what nobody says to have looked at.
func ErrNotSeen() error {
	return access.Refuse(access.Bad, "This form does not say which version of the page you saw.", "Open the page again, then publish it.")
}

// ChangedSince refuses to go on where a page, one of its pictures or the rules are not
// as they were seen. It names what has changed, and who changed it.
func (d *Desk) ChangedSince(s store.Records, id uint, seen Seen) error {
	p, err := s.Page(id)
	if err != nil {
		return access.NotFound(err, "The page")
	}
	number, err := s.RulesNumber()
	if err != nil {
		return err
	}
	var changes []string
	if number != seen.Rules {
		changes = append(changes, "the house rules have changed")
	}
	if p.Version != seen.Page {
		changes = append(changes, "the page itself has changed")
	}
	of, err := albumsSince(s, seen)
	if err != nil {
		return err
	}
	changes = append(changes, of...)
	ids := slices.Sorted(maps.Keys(seen.Pictures))
	now, err := s.VersionsOf(ids)
	if err != nil {
		return err
	}
	for _, picture := range ids {
		if now[picture] == seen.Pictures[picture] {
			continue
		}
		last, err := s.LastTrace(picture)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		switch {
		case now[picture] == 0:
			changes = append(changes, "a picture on it is gone")
		case err != nil:
			changes = append(changes, "a picture on it has changed")
		default:
			changes = append(changes, fmt.Sprintf("%s (%s)", last.What, last.Person))
		}
	}
	if len(changes) == 0 {
		return nil
	}
	return access.Because(access.Clash, "Something has changed since you looked: "+strings.Join(changes, "; ")+".", "Nothing was published. Look at the page as it is now, then publish it.", store.ErrStale)
}

// albumsSince tells which albums are not as they were seen, and who changed them.
func albumsSince(s store.Records, seen Seen) ([]string, error) {
	ids := slices.Sorted(maps.Keys(seen.Albums))
	there, err := s.AlbumsIn(ids)
	if err != nil {
		return nil, err
	}
	var changes []string
	for _, id := range ids {
		now, ok := there[id]
		switch {
		case !ok && seen.Albums[id] != 0:
			changes = append(changes, "an album on it is gone")
		case ok && now.Version != seen.Albums[id]:
			steps, err := s.AlbumSteps(id)
			if err != nil {
				return nil, err
			}
			last := steps[len(steps)-1]
			changes = append(changes, fmt.Sprintf("the album “%s” has changed (%s, %s)", now.Doc.Title, last.Text, last.Person))
		}
	}
	return changes, nil
}
