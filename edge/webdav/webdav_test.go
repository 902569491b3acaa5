package webdav_test

import (
	"context"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/destinations"
	"mivlet/edge/placetest"
	"mivlet/edge/webdav"
	"mivlet/internal/servertest"
)

// All that a place must do, with Apache's own WebDAV.
func TestAFolderOverWebDAV(t *testing.T) {
	t.Parallel()
	at, dir := servertest.NewWebDAV(t)
	open := func(ctx context.Context) (destinations.Place, error) {
		return webdav.Open(ctx, at, servertest.Login, servertest.Password)
	}
	placetest.Run(t, dir, open)
	placetest.Swept(t, dir, open)
	_, err := webdav.Open(context.Background(), at, "mivlet", "other words")
	require.ErrorContains(t, err, "401")
	_, err = webdav.Open(context.Background(), at+"/nothing", "mivlet", "four words")
	require.ErrorIs(t, err, os.ErrNotExist)
}

// Passwords do not go where others can read them.
func TestPasswordsAreSentWithTLSOnly(t *testing.T) {
	t.Parallel()
	for at, says := range map[string]string{"http://dav.example/site": "use https://", "ftp://dav.example": "begins with https://", "dav.example": "begins with https://"} {
		_, err := webdav.Open(context.Background(), at, "a", "b")
		assert.ErrorContains(t, err, says, at)
	}
}
