// Package pinned holds computations to what they gave before, for many inputs made by chance:
// rules of thumb whose limits no standard states are moved on purpose, or not at all. It tells
// that something has changed, and for which input; what is right is for other tests to say.
package pinned

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// fractions are numbers whose last digits may differ between processors, some of which multiply
// and add in one step.
var fractions = regexp.MustCompile(`-?\d+\.\d+(e[-+]?\d+)?`)

func rounded(number []byte) []byte {
	v, err := strconv.ParseFloat(string(number), 64)
	if err != nil {
		return number
	}
	return strconv.AppendFloat(nil, v, 'g', 8, 64)
}

// Hold compares what give returns for the seeds from 0 to n-1 with the digests in
// testdata/name.pinned of the package under test. Where a limit is moved on purpose, PIN=1 writes
// the digests anew, and the difference goes into the commit.
func Hold(t *testing.T, name string, n int, give func(seed uint64) any) {
	t.Helper()
	at := filepath.Join("testdata", name+".pinned")
	got := make([]string, n)
	for i := range got {
		data, err := json.Marshal(give(uint64(i)))
		if err != nil {
			t.Fatalf("%s, seed %d: %v", name, i, err)
		}
		got[i] = fmt.Sprintf("%x", sha256.Sum256(fractions.ReplaceAllFunc(data, rounded)))[:16]
	}
	if os.Getenv("PIN") != "" {
		if err := os.MkdirAll("testdata", 0o750); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(at, []byte(strings.Join(got, "\n")+"\n"), 0o600); err != nil {
			t.Fatal(err)
		}
		return
	}
	kept, err := os.ReadFile(at)
	if err != nil {
		t.Fatalf("nothing is pinned yet: PIN=1 go test writes it (%v)", err)
	}
	want := strings.Fields(string(kept))
	if len(want) != n {
		t.Fatalf("%s holds %d digests, not %d: write them anew with PIN=1", at, len(want), n)
	}
	for i := range got {
		if got[i] != want[i] {
			data, _ := json.MarshalIndent(give(uint64(i)), "", " ")
			if len(data) > 2000 {
				data = append(data[:2000], "…"...)
			}
			t.Fatalf("%s gives something else than before for seed %d. It gives now:\n%s\nWhere that was meant, PIN=1 go test writes it anew.", name, i, data)
		}
	}
}
