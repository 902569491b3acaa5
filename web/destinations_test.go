package web

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
)

// What can be planned in a while is asked for again by itself; what cannot be is told, and stays told.
func TestAPlanIsAskedForAgain(t *testing.T) {
	t.Parallel()
	for kind, again := range map[access.Kind]bool{access.TooSoon: true, access.Bad: false} {
		var b bytes.Buffer
		why := access.Refuse(kind, "Files are being sent.", "Wait.")
		require.NoError(t, newViews("").screens["destination"].ExecuteTemplate(&b, "destination-unplanned", unplannedView{7, why}))
		assert.Equal(t, again, bytes.Contains(b.Bytes(), []byte(`hx-get="/destinations/7/plan"`)), b.String())
		assert.Contains(t, b.String(), "Files are being sent. Wait.")
	}
}
