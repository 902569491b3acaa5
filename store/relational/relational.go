// Package relational keeps records in the tables of a relational database, through GORM. What
// differs between databases stands behind [Engine]; store/sqlite and store/postgres are the ones there
// are. Statements are written once, in what both understand: booleans are compared with TRUE, documents
// are text and are looked into with json_extract, json_each and json_tree, and the letters of words count
// as bytes when they are put in order.
package relational

import (
	"database/sql"
	"errors"

	"gorm.io/gorm"

	"mivlet/store"
)

// Records are a database, or one transaction in it. They implement [store.Records].
type Records struct {
	write   *gorm.DB // whoever writes waits for the one before
	read    *gorm.DB // over a few connections, each of which sees one moment
	engine  Engine
	watched *watched
	inTx    bool
}

var _ store.Records = (*Records)(nil)

// New are the records of a database. Whoever gets a transaction from write has it alone: all others wait.
func New(write, read *gorm.DB, engine Engine) *Records {
	s := &Records{write: write, read: read, engine: engine, watched: &watched{}}
	for _, db := range []*gorm.DB{write, read} {
		if db != nil { // nil where nothing is written
			db.Logger = &watch{s.watched, db == write}
		}
	}
	return s
}

// Tx implements [store.Records].
func (s *Records) Tx(do func(store.Records) error) error {
	return s.tx(func(in *Records) error { return do(in) })
}

func (s *Records) tx(do func(*Records) error) error {
	return s.write.Transaction(func(tx *gorm.DB) error { return do(s.over(tx)) })
}

// View implements [store.Records].
func (s *Records) View(do func(store.Records) error) error {
	if s.inTx {
		return do(s)
	}
	return s.read.Transaction(func(tx *gorm.DB) error { return do(s.over(tx)) }, s.engine.OneMoment())
}

// over are the same records inside a transaction.
func (s *Records) over(tx *gorm.DB) *Records {
	return &Records{write: tx, read: tx, engine: s.engine, watched: s.watched, inTx: true}
}

// Close closes all connections.
func (s *Records) Close() error {
	var err error
	for _, pool := range []*gorm.DB{s.read, s.write} {
		if pool == nil {
			continue
		}
		open, bad := pool.DB()
		if bad == nil {
			bad = open.Close()
		}
		err = errors.Join(err, bad)
	}
	return err
}

// found turns the database's word for nothing into ours.
func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return store.ErrNotFound
	}
	return err
}

// Empty implements [store.Records].
func (s *Records) Empty() (bool, error) {
	for _, model := range []any{&store.Picture{}, &store.Page{}} {
		var n int64
		if err := s.read.Model(model).Limit(1).Count(&n).Error; err != nil || n > 0 {
			return false, err
		}
	}
	return true, nil
}

// Engine is what is different from database to database.
type Engine interface {
	// OneMoment are the options of a transaction that only reads and sees one moment.
	OneMoment() *sql.TxOptions
	// Index puts what a picture is found by into the index of words. Where the picture is
	// not new, what the index has of it is replaced.
	Index(tx *gorm.DB, found Findable, isNew bool) error
	// Unindex takes a picture out of the index of words.
	Unindex(tx *gorm.DB, picture uint) error
	// Matching narrows a query for pictures to those that have all of some words, or words
	// that begin so. rank puts those first that fit best.
	Matching(q *gorm.DB, words []string) (narrowed *gorm.DB, rank string)
	// Check looks for what is broken in the database itself.
	Check(read *gorm.DB) (faults []string, err error)
	// Scrub overwrites what was deleted wherever the database may still hold it.
	Scrub(write *gorm.DB) error
	// Columns are the columns of a table that can be written, in their order.
	Columns(read *gorm.DB, table string) ([]Column, error)
	// Filled has the database number what comes next in tables that rows were copied into.
	Filled(tx *gorm.DB, tables []string) error
}

// Findable is what a picture is found by.
type Findable struct {
	Picture uint
	Name    string
	Words   string // alternative texts, caption, and what the file was called
	Credit  string
	Tags    string
	Folder  string // with the section
	Former  string // names that it had
}

// Column is a column of a table.
type Column struct {
	Name     string
	Kind     Kind
	Required bool // it is never NULL
}

// Kind is what a column holds.
type Kind string

// The kinds of columns.
const (
	Text    Kind = "text"
	Integer Kind = "integer"
	Boolean Kind = "boolean"
	Real    Kind = "real"
	Moment  Kind = "moment"
	Bytes   Kind = "bytes"
)
