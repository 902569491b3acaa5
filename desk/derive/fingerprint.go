package derive

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
)

// Fingerprint stands for values in n bytes, written in hex: it changes with any
// of them.
func Fingerprint(n int, values ...any) string {
	data, err := json.Marshal(values)
	if err != nil {
		panic(err) // values of our own always have a JSON form
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:n])
}
