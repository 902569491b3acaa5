package main

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"github.com/BurntSushi/toml"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/store/datafolder"
	"mivlet/store/folder"
)

// What is noted about houses lies beside them, as files: how much each may have, and which rules are the same in all.

// allotmentName is the note that says what a house gets, in its own folder or, for all that have none, in the folder of
// the houses.
const allotmentName = "limits.toml"

// readAllotment reads what a house gets.
func readAllotment(dir, host string) (a access.Allotment, err error) {
	for _, at := range []string{filepath.Join(dir, host, allotmentName), filepath.Join(dir, allotmentName)} {
		read, err := toml.DecodeFile(at, &a)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			continue
		case err != nil:
			return a, fmt.Errorf("%s: %w", at, err)
		case len(read.Undecoded()) > 0:
			return a, fmt.Errorf("%s: unknown setting %q", at, read.Undecoded()[0])
		}
		return a, nil
	}
	return a, nil
}

// givenName is the document in the folder of the houses that says which rules are the same in all of them, and what a new
// one begins with.
const givenName = "rules.json"

// readGiven reads which rules are given for all houses.
func readGiven(dir string) (rules.Given, error) {
	at := filepath.Join(dir, givenName)
	data, err := os.ReadFile(at)
	if errors.Is(err, fs.ErrNotExist) {
		return rules.Given{}, nil
	}
	if err != nil {
		return rules.Given{}, err
	}
	g, err := rules.ParseGiven(data)
	if err != nil {
		err = fmt.Errorf("invalid %s: %w", at, err)
	}
	return g, err
}

// checkHouses tells everything that is wrong with what is noted about houses: one that is wrong could not be opened when
// somebody asks for it.
func checkHouses(dir, office string) error {
	names, err := newHouses(dir, nil).names()
	if err != nil {
		return fmt.Errorf("invalid houses %q: %w", dir, err)
	}
	_, err = readGiven(dir)
	all := []error{err}
	if office != "" && !slices.Contains(names, office) {
		all = append(all, fmt.Errorf("invalid office %q: there is no house of that name; add it first", office))
	}
	for _, name := range names {
		_, limits := readAllotment(dir, name)
		_, storage := datafolder.ReadStorage(filepath.Join(dir, name))
		all = append(all, limits, storage)
	}
	return errors.Join(all...)
}

// notes are the notes about the houses in a folder, as they are read and written while houses are open. It is safe for
// concurrent use.
type notes struct {
	dir string

	mu    sync.Mutex
	given rules.Given // as it was read last
	read  time.Time   // when its file was changed last, then
}

// allotment is what a house gets.
func (n *notes) allotment(host string) (access.Allotment, error) { return readAllotment(n.dir, host) }

// own reports whether what a house gets is its own, and not what all others get.
func (n *notes) own(host string) bool {
	_, err := os.Stat(filepath.Join(n.dir, host, allotmentName))
	return err == nil
}

// allot notes what a house gets; nil stands for what all others get.
func (n *notes) allot(host string, a *access.Allotment) error {
	dir := filepath.Join(n.dir, host)
	if a == nil {
		return folder.Remove(dir, allotmentName)
	}
	text, err := toml.Marshal(*a)
	if err != nil {
		return err
	}
	return folder.Replace(dir, allotmentName, text)
}

// all is what is given to all houses. What cannot be read any more stays as it was.
func (n *notes) all() (rules.Given, error) {
	n.mu.Lock()
	defer n.mu.Unlock()
	changed := time.Time{}
	if info, err := os.Stat(filepath.Join(n.dir, givenName)); err == nil {
		changed = info.ModTime()
	}
	if changed.Equal(n.read) {
		return n.given, nil
	}
	g, err := readGiven(n.dir)
	if err != nil {
		return n.given, err
	}
	n.given, n.read = g, changed
	return g, nil
}

// give notes what is given to all houses.
func (n *notes) give(g rules.Given) error {
	text, err := g.Encode()
	if err != nil {
		return err
	}
	if _, err := rules.ParseGiven(text); err != nil { // nothing is written that could not be read
		return err
	}
	return folder.Replace(n.dir, givenName, append(text, '\n'))
}
