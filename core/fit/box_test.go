package fit_test

import (
	"encoding/json"
	"fmt"
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
)

func ExampleBox() {
	data, _ := json.Marshal(fit.BoxOf(image.Rect(10, 20, 110, 70)))
	fmt.Println(string(data))
	// Output: {"x":10,"y":20,"width":100,"height":50}
}

func TestBoxesOfOlderDocumentsAreRead(t *testing.T) {
	var b fit.Box
	require.NoError(t, json.Unmarshal([]byte(`{"Min":{"X":10,"Y":20},"Max":{"X":110,"Y":70}}`), &b))
	assert.Equal(t, image.Rect(10, 20, 110, 70), b.Rect())
	require.NoError(t, json.Unmarshal([]byte(`{"x":-5,"y":0,"width":5,"height":0}`), &b))
	assert.Equal(t, fit.Box{X: -5, Width: 5}, b)
	assert.Error(t, json.Unmarshal([]byte(`"none"`), &b))
	assert.Error(t, json.Unmarshal([]byte(`{"Min":{"X":"a"}}`), &b))
}
