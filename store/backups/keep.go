package backups

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
)

// Keep is how many backups are kept: the newest of each of so many days, weeks (ISO 8601) and months
// that have one. The newest of all stays whatever it says.
type Keep struct{ Days, Weeks, Months int }

// Usual is what is kept where nobody says otherwise (common practice).
var Usual = Keep{Days: 7, Weeks: 5, Months: 12}

// stay returns those of all backups, newest first, that are kept. Days are those of a time zone.
func (k Keep) stay(all []Backup, in *time.Location) map[string]bool {
	stay := map[string]bool{}
	for _, every := range []struct {
		most int
		span func(time.Time) string
	}{
		{k.Days, func(t time.Time) string { return t.Format(time.DateOnly) }},
		{k.Weeks, func(t time.Time) string { y, w := t.ISOWeek(); return fmt.Sprint(y, " ", w) }},
		{k.Months, func(t time.Time) string { return t.Format("2006-01") }},
	} {
		seen := map[string]bool{}
		for i, b := range all {
			span := every.span(b.At.In(in))
			if i == 0 || !seen[span] && len(seen) < every.most {
				stay[b.ID()] = true
				seen[span] = true
			}
		}
	}
	return stay
}

// pooled is the path of a file in the pool. What else lies in a place is somebody else's.
var pooled = regexp.MustCompile(`^` + pool + `/[0-9a-f]{64}$`)

// Prune takes away the backups that are not kept, what is left of those that were broken off, and then
// the files that no backup names. It returns how many backups are gone.
func Prune(ctx context.Context, in Place, k Keep, zone *time.Location) (int, error) {
	there, err := in.Stamps(ctx)
	if err != nil {
		return 0, err
	}
	all, err := list(ctx, in, there)
	if err != nil {
		return 0, err
	}
	stay := k.stay(all, zone)
	gone := map[string]bool{}
	for at := range there {
		id, name, _ := strings.Cut(at, "/")
		_, err := time.Parse(momentForm, id)
		if own := slices.Contains([]string{wholeName, triedName, entriesName, recordsName}, name); own && err == nil && !stay[id] {
			gone[id] = true
		}
	}
	if len(gone) == 0 {
		return 0, nil
	}
	for id := range gone {
		if err := drop(ctx, in, id); err != nil {
			return 0, err
		}
	}
	all = slices.DeleteFunc(all, func(b Backup) bool { return !stay[b.ID()] })
	return len(gone), sweep(ctx, in, there, all)
}

// sweep takes away the files of a place that none of its backups names.
func sweep(ctx context.Context, in Place, there map[string]string, all []Backup) error {
	used := map[string]bool{}
	for _, b := range all {
		var entries []entry
		if err := getJSON(ctx, in, b.of(entriesName), &entries); err != nil {
			return err // whoever does not know what is named takes nothing away
		}
		for _, e := range entries {
			used[poolPath(e.Hash)] = true
		}
	}
	var failed []error
	for at := range there {
		if pooled.MatchString(at) && !used[at] {
			failed = append(failed, in.Remove(ctx, at))
		}
	}
	return errors.Join(failed...)
}
