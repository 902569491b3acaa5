package sqlite

import (
	"database/sql"
	"fmt"
	"strings"

	"gorm.io/gorm"

	"mivlet/store/relational"
)

// engine is what only SQLite does so.
type engine struct{}

var _ relational.Engine = engine{}

// OneMoment is nothing special: whoever reads in a transaction sees one moment (SQLite,
// "Isolation In SQLite").
func (engine) OneMoment() *sql.TxOptions { return nil }

// Index writes into the full-text index (SQLite FTS5).
func (e engine) Index(tx *gorm.DB, f relational.Findable, isNew bool) error {
	if !isNew {
		if err := e.Unindex(tx, f.Picture); err != nil {
			return err
		}
	}
	words := func(text string) string { return strings.Join(relational.Words(text), " ") }
	return tx.Exec("INSERT INTO pictures_fts (rowid, name, words, credit, tags, folder, former) VALUES (?, ?, ?, ?, ?, ?, ?)",
		f.Picture, words(f.Name), words(f.Words), words(f.Credit), words(f.Tags), words(f.Folder), words(f.Former)).Error
}

func (engine) Unindex(tx *gorm.DB, picture uint) error {
	return tx.Exec("DELETE FROM pictures_fts WHERE rowid = ?", picture).Error
}

// Matching asks for every word, or the beginning of one.
func (engine) Matching(q *gorm.DB, words []string) (*gorm.DB, string) {
	quoted := make([]string, len(words))
	for i, w := range words {
		quoted[i] = `"` + w + `"*`
	}
	return q.Joins("JOIN pictures_fts ON pictures_fts.rowid = pictures.id").Where("pictures_fts MATCH ?", strings.Join(quoted, " ")), "bm25(pictures_fts, 8, 4, 2, 3, 2, 2)"
}

func (engine) Check(read *gorm.DB) (faults []string, err error) {
	var lines []string
	if err := read.Raw("PRAGMA integrity_check").Scan(&lines).Error; err != nil {
		return nil, err
	}
	for _, l := range lines {
		if l != "ok" {
			faults = append(faults, l)
		}
	}
	var broken []struct{ Table, Parent string }
	if err := read.Raw(`SELECT "table", parent FROM pragma_foreign_key_check`).Scan(&broken).Error; err != nil {
		return nil, err
	}
	for _, b := range broken {
		faults = append(faults, fmt.Sprintf("a record of %s belongs to none of %s", b.Table, b.Parent))
	}
	return faults, nil
}

func (engine) Scrub(write *gorm.DB) error {
	for _, statement := range []string{"INSERT INTO pictures_fts(pictures_fts) VALUES('optimize')", "VACUUM", "PRAGMA wal_checkpoint(TRUNCATE)"} {
		if err := write.Exec(statement).Error; err != nil {
			return err
		}
	}
	return nil
}

// Columns asks what the table was made with. Numbers stand for booleans, too: which are meant the database
// does not know, and need not.
func (engine) Columns(read *gorm.DB, table string) ([]relational.Column, error) {
	var rows []struct {
		Name, Type  string
		Notnull, Pk int
	}
	if err := read.Raw("SELECT name, type, \"notnull\", pk FROM pragma_table_info(?)", table).Scan(&rows).Error; err != nil {
		return nil, err
	}
	kinds := map[string]relational.Kind{"INTEGER": relational.Integer, "REAL": relational.Real, "DATETIME": relational.Moment, "BLOB": relational.Bytes}
	var all []relational.Column
	for _, row := range rows {
		kind, ok := kinds[row.Type]
		if !ok {
			kind = relational.Text
		}
		all = append(all, relational.Column{Name: row.Name, Kind: kind, Required: row.Notnull+row.Pk > 0})
	}
	return all, nil
}

// Filled has nothing to do: SQLite numbers on from the highest number that is there.
func (engine) Filled(*gorm.DB, []string) error { return nil }
