package address_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/rules"
	"mivlet/desk/address"
)

// Two contents never share an address, whatever they are called (common practice: what is
// cached for long must not change).
func TestPlacesAreNeverShared(t *testing.T) {
	places := address.Places{}
	one, two, three := address.Filed{Hash: "aaaaaaaaaaaaaaaaaaaa"}, address.Filed{Hash: "bbbbbbbbbbbbbbbbbbbb"}, address.Filed{Hash: "bbbbbbbbbbbbbbbbcccc"}
	assert.Equal(t, "/boat.jpg", places.Put("/boat.jpg", one))
	assert.Equal(t, "/boat.jpg", places.Put("/boat.jpg", one), "the same is there already")
	second := places.Put("/boat.jpg", two)
	third := places.Put("/boat.jpg", three) // even where the beginnings of two hashes are the same
	assert.Len(t, map[string]bool{"/boat.jpg": true, second: true, third: true}, 3)
	house := rules.Default()
	at, found := address.Places{}.Addressed(house, "/boat.jpg", one)
	assert.Equal(t, []string{"/boat.jpg", "/boat.jpg?v=aaaaaaaaaaaaaaaa"}, []string{at, found})
	house.Placing.CutMark = "suffix"
	at, found = address.Places{}.Addressed(house, "/boat.jpg", one)
	assert.Equal(t, at, found)
	assert.Contains(t, at, "aaaaaaaaaaaaaaaa.jpg")
}
