package relational

import (
	"bufio"
	"bytes"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"mivlet/store"
)

// passing are tables that no export holds: they tell who is at work at the moment.
var passing = []string{"sessions", "signed_in"}

// Export writes all records as they are at one moment, table by table, each row as one line of JSON with the columns
// as names. Moments are text in RFC 3339, bytes text in base64, and what is true or false is 1 or 0, whatever the
// database. to gives what a table is written to.
func (s *Records) Export(to func(table string) (io.Writer, error)) error {
	return s.View(func(from store.Records) error {
		for _, table := range tables {
			if slices.Contains(passing, table) {
				continue
			}
			w, err := to(table)
			if err == nil {
				err = from.(*Records).exportTable(w, table)
			}
			if err != nil {
				return fmt.Errorf("%s: %w", table, err)
			}
		}
		return nil
	})
}

func (s *Records) exportTable(to io.Writer, table string) error {
	columns, err := s.Columns(table)
	if err != nil {
		return err
	}
	rows, err := s.read.Raw(`SELECT ` + named(columns) + ` FROM "` + table + `" ORDER BY 1, 2`).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		row, err := scanned(rows, columns)
		if err != nil {
			return err
		}
		line := []byte{'{'}
		for i, c := range columns {
			if i > 0 {
				line = append(line, ',')
			}
			value, err := json.Marshal(told(row[i]))
			if err != nil {
				return err
			}
			line = append(append(line, `"`+c.Name+`":`...), value...)
		}
		if _, err := to.Write(append(line, '}', '\n')); err != nil {
			return err
		}
	}
	return rows.Err()
}

// told is a value as an export tells it.
func told(v any) any {
	switch v := v.(type) {
	case bool:
		if v {
			return 1
		}
		return 0
	case time.Time:
		return v.UTC().Format(time.RFC3339Nano)
	}
	return v // []byte is base64 in JSON
}

// longestRow bounds one line of an export, in bytes: a page and its files may be long.
const longestRow = 256 << 20

// Import reads what [Records.Export] wrote into a database that holds no records: all of it, or none. from gives the rows
// of a table; none where it returns nil. It fails with [ErrNotEmpty].
func (s *Records) Import(from func(table string) (io.ReadCloser, error)) error {
	return s.intoEmpty(func(into *Records) error {
		for _, table := range tables {
			r, err := from(table)
			if err == nil && r != nil {
				err = errors.Join(into.importTable(r, table), r.Close())
			}
			if err != nil {
				return fmt.Errorf("%s: %w", table, err)
			}
		}
		return nil
	})
}

func (s *Records) importTable(from io.Reader, table string) error {
	columns, err := s.Columns(table)
	if err != nil {
		return err
	}
	into := inserter{to: s, table: table, columns: columns}
	lines := bufio.NewScanner(from)
	lines.Buffer(nil, longestRow)
	for n := 1; lines.Scan(); n++ {
		var said map[string]any
		d := json.NewDecoder(bytes.NewReader(lines.Bytes()))
		d.UseNumber()
		if err := d.Decode(&said); err != nil {
			return fmt.Errorf("row %d: %w", n, err)
		}
		row := make([]any, len(columns))
		for i, c := range columns {
			v, there := said[c.Name]
			if !there {
				return fmt.Errorf("row %d: it has no %q", n, c.Name)
			}
			if row[i], err = read(c, v); err != nil {
				return fmt.Errorf("row %d: %w", n, err)
			}
		}
		if err := into.add(row); err != nil {
			return err
		}
	}
	return errors.Join(lines.Err(), into.send())
}

// read is a value of an export as a column takes it.
func read(c Column, v any) (any, error) {
	switch v := v.(type) {
	case json.Number:
		if c.Kind == Real {
			return v.Float64()
		}
		n, err := v.Int64()
		if err != nil {
			return nil, fmt.Errorf("%s: %w", c.Name, err)
		}
		return as(c, n)
	case string:
		switch c.Kind {
		case Moment:
			return time.Parse(time.RFC3339Nano, v)
		case Bytes:
			return base64.StdEncoding.DecodeString(v)
		}
		return as(c, v)
	}
	return as(c, v)
}
