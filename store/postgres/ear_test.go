package postgres

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// News come in their order. Whoever does not listen for long is told that something was missed, and takes no more
// memory.
func TestNewsThatWait(t *testing.T) {
	t.Parallel()
	e := &ear{more: make(chan struct{}, 1), hub: &hub{}}
	for i := range mostNews {
		e.add(news{from: "one", text: fmt.Sprint(i)})
	}
	got := e.next(t.Context())
	require.Len(t, got, mostNews)
	assert.Equal(t, news{from: "one", text: "41"}, got[41])
	for range mostNews + 3 {
		e.add(news{from: "one", text: "more"})
	}
	got = e.next(t.Context())
	require.Len(t, got, 3)
	assert.Equal(t, []bool{true, false, false}, []bool{got[0].missed, got[1].missed, got[2].missed})

	ended, end := context.WithCancel(t.Context())
	end()
	assert.Empty(t, e.next(ended))
}
