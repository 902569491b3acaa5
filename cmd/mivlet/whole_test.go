package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/demo"
	"mivlet/store/datafolder"
)

// A house is exported while it is open, becomes a house among others, is told of there, and erased with a receipt; what
// cannot be meant is refused, and nothing is lost.
func TestAHouseFromOneFolderToMany(t *testing.T) {
	t.Parallel()
	at := t.TempDir()
	data, archive, all := filepath.Join(at, "data"), filepath.Join(at, "paddle.zip"), filepath.Join(at, "houses")
	kept, err := datafolder.Open(data)
	require.NoError(t, err)
	_, err = demo.Fill(&kept.Store, time.Now())
	require.NoError(t, err)
	code, out, errs := shell("export", archive, "--data", data)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "all of Brindlemere Paddle Club")
	code, _, errs = shell("export", archive, "--data", data)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "is there already")
	require.NoError(t, kept.Close())

	require.NoError(t, os.Mkdir(all, 0o700))
	code, out, errs = shell("houses", "add", "North.district.example", "--houses", all)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "north.district.example is there")
	code, _, errs = shell("houses", "add", "north of here", "--houses", all)
	assert.NotZero(t, code)
	assert.Contains(t, errs, `invalid host "north of here"`)
	code, _, errs = shell("houses", "add", "north.district.example", "--houses", all)
	assert.NotZero(t, code, errs)
	south := filepath.Join(all, "south.district.example")
	code, out, errs = shell("import", archive, "--data", south)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "holds Brindlemere Paddle Club")
	code, out, errs = shell("houses", "--houses", all)
	assert.Zero(t, code, errs)
	assert.Regexp(t, `north\.district\.example .*nobody has asked for it yet`, out)
	assert.Regexp(t, `south\.district\.example +6 +45 `, out)

	receipt := filepath.Join(at, "receipt.json")
	code, _, errs = shell("erase", "--data", south, "--title", "Rowing Club", "--receipt", receipt)
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, `it is called "Brindlemere Paddle Club"`)
	assert.NoFileExists(t, receipt)
	code, _, errs = shell("erase", "--data", south)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "--receipt")
	code, out, errs = shell("erase", "--data", south, "--title", "Brindlemere Paddle Club", "--receipt", receipt)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "was erased")
	assert.NoDirExists(t, south)
	text, err := os.ReadFile(receipt)
	require.NoError(t, err)
	var r datafolder.Receipt
	require.NoError(t, json.Unmarshal(text, &r))
	assert.EqualValues(t, 6, r.Records["people"])
}

// Where a house goes must be said, and must be something.
func TestAMoveIsSaidInFull(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	kept, err := datafolder.Open(data)
	require.NoError(t, err)
	require.NoError(t, kept.Close())
	for says, args := range map[string][]string{
		"or that it comes --back":           {},
		"and not both":                      {"--back", "--records", "postgres://db.example/mivlet"},
		"the house is kept there already":   {"--back"},
		`invalid house "Paddle Club"`:       {"--records", "postgres://db.example/mivlet", "--house", "Paddle Club"},
		`invalid address of files "s3://x"`: {"--files", "s3://x"},
	} {
		code, _, errs := shell(append([]string{"move", "--data", data}, args...)...)
		assert.NotZero(t, code)
		assert.Contains(t, errs, says)
	}
	report, err := datafolder.Verify(data, time.Hour)
	require.NoError(t, err)
	assert.Empty(t, report.Faults)
}
