package relational

import (
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

// tables are all that hold records, those that others belong to first.
var tables = []string{"house_rules", "pictures", "steps", "cuts", "pages", "page_steps", "people", "roles", "sessions", "trail", "rules_drafts", "ruler_sheets", "readings",
	"folders", "tags", "former_names", "placed", "redirects", "live_versions", "copies", "published", "gone", "trail_head", "live_cards", "live_terms", "live_lists",
	"albums", "album_steps", "album_pictures", "banners", "banner_steps", "banner_files", "occasions", "banner_days", "live_spots", "attachments", "destinations", "sent_files",
	"lighter_due", "provider", "signed_in", "passkeys", "unused", "jobs", "erasures", "former_sites", "former_choices", "rounds", "found", "former_looks",
	"former_compared", "decoded"}

// drawnUp are tables that the database fills by itself from others.
var drawnUp = []string{"page_terms"}

// Tables returns the names of all tables that hold records.
func Tables() []string { return slices.Concat(tables, drawnUp) }

// Columns returns the columns of a table that can be written, in their order.
func (s *Records) Columns(table string) ([]Column, error) { return s.engine.Columns(s.read, table) }

// ErrNotEmpty means that records are to be copied to where there are some already.
var ErrNotEmpty = errors.New("there are records already")

// CopyTo copies all records as they are at one moment into a database that holds none, of whatever
// engine: all of them, or none. told, which may be nil, hears how many rows have come so far. It fails
// with [ErrNotEmpty].
func (s *Records) CopyTo(to *Records, told func(rows int64)) error {
	return s.View(func(from store.Records) error {
		return to.intoEmpty(func(into *Records) error {
			var rows int64
			for _, table := range tables {
				if err := from.(*Records).copyTable(into, table, func(n int) {
					if rows += int64(n); told != nil {
						told(rows)
					}
				}); err != nil {
					return fmt.Errorf("%s: %w", table, err)
				}
			}
			return nil
		})
	})
}

// intoEmpty has a database filled that holds no records, in one transaction, and makes what follows from them.
func (s *Records) intoEmpty(fill func(into *Records) error) error {
	return s.tx(func(into *Records) error {
		if err := into.write.Exec("DELETE FROM trail_head WHERE n = 0").Error; err != nil { // that of an empty trail
			return err
		}
		for _, table := range tables {
			var n int64
			if err := into.read.Table(table).Limit(1).Count(&n).Error; err != nil || n > 0 {
				return errors.Join(err, ErrNotEmpty)
			}
		}
		if err := fill(into); err != nil {
			return err
		}
		if err := into.engine.Filled(into.write, tables); err != nil {
			return err
		}
		return into.indexAll()
	})
}

// insertedAtOnce is how many rows one statement writes.
const insertedAtOnce = 200

// inserter writes rows into a table, many at once.
type inserter struct {
	to      *Records
	table   string
	columns []Column
	waiting []any
	sent    func(rows int) // nil where nobody counts
}

func (in *inserter) add(row []any) error {
	if in.waiting = append(in.waiting, row...); len(in.waiting) >= insertedAtOnce*len(in.columns) {
		return in.send()
	}
	return nil
}

// send writes those that wait.
func (in *inserter) send() error {
	n := len(in.waiting) / len(in.columns)
	if n == 0 {
		return nil
	}
	row := "(" + strings.TrimSuffix(strings.Repeat("?, ", len(in.columns)), ", ") + ")"
	all := strings.TrimSuffix(strings.Repeat(row+", ", n), ", ")
	err := in.to.write.Exec(`INSERT INTO "`+in.table+`" (`+named(in.columns)+`) VALUES `+all, in.waiting...).Error
	in.waiting = in.waiting[:0]
	if in.sent != nil {
		in.sent(n)
	}
	return err
}

// named are the names of columns, as statements take them.
func named(columns []Column) string {
	names := make([]string, len(columns))
	for i, c := range columns {
		names[i] = `"` + c.Name + `"`
	}
	return strings.Join(names, ", ")
}

func (s *Records) copyTable(into *Records, table string, told func(int)) error {
	columns, err := s.columnsOfBoth(into, table)
	if err != nil {
		return err
	}
	rows, err := s.read.Raw(`SELECT ` + named(columns) + ` FROM "` + table + `"`).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	writing := inserter{to: into, table: table, columns: columns, sent: told}
	for rows.Next() {
		row, err := scanned(rows, columns)
		if err != nil {
			return err
		}
		if err := writing.add(row); err != nil {
			return err
		}
	}
	return errors.Join(rows.Err(), writing.send())
}

// columnsOfBoth are the columns of a table, as the database wants them that they are copied into. Both have the same.
func (s *Records) columnsOfBoth(into *Records, table string) ([]Column, error) {
	here, err := s.Columns(table)
	if err != nil {
		return nil, err
	}
	there, err := into.engine.Columns(into.read, table)
	if err != nil {
		return nil, err
	}
	for _, c := range there {
		if !slices.ContainsFunc(here, func(o Column) bool { return o.Name == c.Name }) {
			return nil, fmt.Errorf("there is no column %q to copy", c.Name)
		}
	}
	if len(here) != len(there) {
		return nil, fmt.Errorf("it has %d columns, and %d in the other database", len(here), len(there))
	}
	return there, nil
}

// scanned is a row as the columns want it.
func scanned(rows *sql.Rows, columns []Column) ([]any, error) {
	row := make([]any, len(columns))
	into := make([]any, len(columns))
	for i := range row {
		into[i] = &row[i]
	}
	if err := rows.Scan(into...); err != nil {
		return nil, err
	}
	finer := 0
	for i, c := range columns {
		var err error
		if row[i], err = as(c, row[i]); err != nil {
			return nil, err
		}
		if at, ok := row[i].(time.Time); ok {
			finer = at.Nanosecond() % int(time.Microsecond)
		}
		if c.Name == "nanos" { // what is left of the moment of an entry of the trail, whose digest is of all of it
			if n, ok := row[i].(int64); ok {
				row[i] = n + int64(finer)
			}
		}
	}
	for i := range row {
		if at, ok := row[i].(time.Time); ok {
			row[i] = at.UTC().Truncate(time.Microsecond)
		}
	}
	return row, nil
}

// as is a value as a column takes it.
func as(c Column, v any) (any, error) {
	switch v := v.(type) {
	case nil, time.Time, float64:
		return v, nil
	case bool:
		if c.Kind == Boolean || c.Kind == Integer {
			return v, nil
		}
	case int64:
		switch c.Kind {
		case Boolean:
			return v != 0, nil
		case Integer:
			return v, nil
		case Real:
			return float64(v), nil
		}
	case []byte:
		if c.Kind == Bytes {
			return slices.Clone(v), nil
		}
		if c.Kind == Text {
			return string(v), nil
		}
	case string:
		if c.Kind == Text {
			return v, nil
		}
		if c.Kind == Bytes {
			return []byte(v), nil
		}
	}
	return nil, fmt.Errorf("column %s holds %T %v, and not %s", c.Name, v, v, c.Kind)
}

// indexedAtOnce is how many pictures are read at once to be put into the index of words.
const indexedAtOnce = 500

// IndexAll puts every picture into the index of words anew.
func (s *Records) IndexAll() error { return s.tx(func(in *Records) error { return in.indexAll() }) }

func (s *Records) indexAll() error {
	var last uint
	for {
		some, err := s.PicturesAfter(last, indexedAtOnce)
		if err != nil || len(some) == 0 {
			return err
		}
		for i := range some {
			if err := s.index(&some[i], false); err != nil {
				return err
			}
		}
		last = some[len(some)-1].ID
	}
}

// Numbers returns how many rows each table has.
func (s *Records) Numbers() (map[string]int64, error) {
	all := map[string]int64{}
	err := s.read.Transaction(func(tx *gorm.DB) error {
		for _, table := range tables {
			var n int64
			if err := tx.Table(table).Count(&n).Error; err != nil {
				return err
			}
			all[table] = n
		}
		return nil
	}, s.engine.OneMoment())
	return all, err
}
