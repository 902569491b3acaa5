package backups

import (
	"crypto/sha256"
	"encoding/hex"
	"hash"
	"io"
)

// sum reads on, and adds up what was read.
type sum struct {
	io.Reader
	of hash.Hash
}

func newSum(r io.Reader) *sum {
	of := sha256.New()
	return &sum{io.TeeReader(r, of), of}
}

// is what files with the content that was read are named.
func (s *sum) is() string { return hex.EncodeToString(s.of.Sum(nil)) }
