package postgres

import (
	"database/sql"
	"fmt"
	"strings"

	"gorm.io/gorm"

	"mivlet/store/relational"
)

// engine is what only PostgreSQL does so.
type engine struct{}

var _ relational.Engine = engine{}

// OneMoment is a transaction that sees what was there when it began (PostgreSQL, 13.2.2).
func (engine) OneMoment() *sql.TxOptions {
	return &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true}
}

func (engine) Index(tx *gorm.DB, f relational.Findable, _ bool) error {
	return tx.Exec("INSERT INTO picture_words (picture_id, words) VALUES (?, ?::tsvector) ON CONFLICT (picture_id) DO UPDATE SET words = excluded.words", f.Picture, vectorOf(f)).Error
}

func (engine) Unindex(tx *gorm.DB, picture uint) error {
	return tx.Exec("DELETE FROM picture_words WHERE picture_id = ?", picture).Error
}

// rank orders by where words stand: in the name, in texts, in tags, or elsewhere. The weights are those of
// the labels D, C, B and A, in this order (PostgreSQL, 12.3.3).
const rank = "ts_rank('{0.25, 0.375, 0.5, 1}', picture_words.words, %s) DESC"

func (engine) Matching(q *gorm.DB, words []string) (*gorm.DB, string) {
	query := queryOf(words)
	return q.Joins("JOIN picture_words ON picture_words.picture_id = pictures.id").Where("picture_words.words @@ ?::tsquery", query),
		fmt.Sprintf(rank, "'"+strings.ReplaceAll(query, "'", "''")+"'::tsquery")
}

// Check has nothing to look for: the database holds rows to what they belong to, and looks after its
// own pages.
func (engine) Check(*gorm.DB) ([]string, error) { return nil, nil }

// Scrub writes the tables of the house anew, without what was deleted (PostgreSQL, VACUUM FULL). What the
// database has archived of its log, or sent to others, is not reached from here.
func (engine) Scrub(write *gorm.DB) error {
	var tables []string
	if err := write.Raw("SELECT quote_ident(relname) FROM pg_class WHERE relnamespace = current_schema()::regnamespace AND relkind = 'r' ORDER BY 1").Scan(&tables).Error; err != nil {
		return err
	}
	for _, table := range tables {
		if err := write.Exec("VACUUM (FULL) " + table).Error; err != nil {
			return err
		}
	}
	return nil
}

// alone reports whether a statement cannot run in a transaction.
func alone(statement string) bool { return strings.HasPrefix(statement, "VACUUM") }

func (engine) Columns(read *gorm.DB, table string) ([]relational.Column, error) {
	var rows []struct {
		Name, Type string
		Required   bool
	}
	if err := read.Raw(`SELECT column_name AS name, data_type AS type, is_nullable = 'NO' AS required FROM information_schema.columns
		WHERE table_schema = current_schema() AND table_name = ? AND is_generated = 'NEVER' ORDER BY ordinal_position`, table).Scan(&rows).Error; err != nil {
		return nil, err
	}
	kinds := map[string]relational.Kind{"bigint": relational.Integer, "boolean": relational.Boolean, "double precision": relational.Real, "timestamp with time zone": relational.Moment, "bytea": relational.Bytes}
	var all []relational.Column
	for _, row := range rows {
		kind, ok := kinds[row.Type]
		if !ok {
			kind = relational.Text
		}
		all = append(all, relational.Column{Name: row.Name, Kind: kind, Required: row.Required})
	}
	return all, nil
}

// Filled has numbers go on from the highest one: those that came along did not count.
func (engine) Filled(tx *gorm.DB, tables []string) error {
	var numbered []string
	if err := tx.Raw("SELECT table_name FROM information_schema.columns WHERE table_schema = current_schema() AND column_name = 'id' AND is_identity = 'YES' AND table_name IN ?", tables).Scan(&numbered).Error; err != nil {
		return err
	}
	for _, table := range numbered {
		if err := tx.Exec(`SELECT setval(pg_get_serial_sequence(?, 'id'), (SELECT COALESCE(MAX(id), 0) + 1 FROM "`+table+`"), FALSE)`, table).Error; err != nil {
			return err
		}
	}
	return nil
}
