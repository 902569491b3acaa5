package relational

import (
	"strings"

	"gorm.io/gorm"
)

// fields are the columns of a kind of record that this version knows, as a statement names them for a table. None is asked
// for by a star: a later version that works on the same records may have added others meanwhile, and PostgreSQL refuses a
// statement that it has prepared when it would give other columns than before.
func (s *Records) fields(of any, table string) string {
	parsed := &gorm.Statement{DB: s.read}
	if err := parsed.Parse(of); err != nil {
		panic(err) // it is one of the store's own
	}
	var all []string
	for _, f := range parsed.Schema.Fields {
		if f.DBName != "" && f.Creatable { // others are those of other tables
			all = append(all, table+"."+f.DBName)
		}
	}
	return strings.Join(all, ", ")
}
