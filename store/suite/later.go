package suite

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"mivlet/store/relational"
)

// Later does to a house what a later version of Mivlet may do to it while this one is at work: each table gets columns, and
// there are other tables. All that this version does has to go on.
func Later(t *testing.T, s interface{ Exec(string, ...any) error }) {
	t.Helper()
	var all []string
	for _, table := range relational.Tables() {
		all = append(all, fmt.Sprintf("ALTER TABLE %s ADD COLUMN later TEXT", table), fmt.Sprintf("ALTER TABLE %s ADD COLUMN later_still INTEGER NOT NULL DEFAULT 7", table))
	}
	all = append(all, "CREATE TABLE of_a_later_version (id INTEGER PRIMARY KEY, page_id INTEGER REFERENCES pages(id) ON DELETE CASCADE)")
	require.NoError(t, s.Exec(strings.Join(all, ";\n")))
}
