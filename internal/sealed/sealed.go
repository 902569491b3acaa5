// Package sealed keeps secrets that a database holds, such as passwords for other servers, under a
// key that lies outside of it. Whoever has a copy of the database alone learns nothing of them.
package sealed

import (
	"crypto/cipher"
	"crypto/rand"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"golang.org/x/crypto/chacha20poly1305"
)

// ErrOpen means that a secret was sealed under another key, for another purpose, or was changed.
var ErrOpen = errors.New("it was sealed with another key")

// Key seals and opens secrets (XChaCha20-Poly1305: RFC 8439, draft-irtf-cfrg-xchacha-03).
type Key struct{ aead cipher.AEAD }

// Load reads the key of a file, 64 hex digits. Where there is no file, it makes a key and one file
// for it, which only its owner can read.
func Load(file string) (Key, error) {
	text, err := os.ReadFile(file)
	if errors.Is(err, fs.ErrNotExist) {
		if err := create(file); err != nil {
			return Key{}, err
		}
		text, err = os.ReadFile(file)
	}
	if err != nil {
		return Key{}, err
	}
	raw, err := hex.DecodeString(strings.TrimSpace(string(text)))
	if err != nil || len(raw) != chacha20poly1305.KeySize {
		return Key{}, fmt.Errorf("invalid key in %s: it must be %d hex digits", file, 2*chacha20poly1305.KeySize)
	}
	aead, err := chacha20poly1305.NewX(raw)
	return Key{aead}, err
}

// create writes a new key. Where somebody else writes one at the same time, that one stays.
func create(file string) error {
	raw := make([]byte, chacha20poly1305.KeySize)
	if _, err := rand.Read(raw); err != nil {
		return err
	}
	out, err := os.CreateTemp(filepath.Dir(file), "."+filepath.Base(file)+"-") // with mode 0600
	if err != nil {
		return err
	}
	defer os.Remove(out.Name())
	_, err = out.WriteString(hex.EncodeToString(raw) + "\n")
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		return err
	}
	if err := os.Link(out.Name(), file); err != nil && !errors.Is(err, fs.ErrExist) {
		return err
	}
	return nil
}

// Seal returns a secret as it may be kept. It can be opened for the same purpose only.
func (k Key) Seal(secret []byte, purpose string) (string, error) {
	nonce := make([]byte, k.aead.NonceSize(), k.aead.NonceSize()+len(secret)+k.aead.Overhead())
	if _, err := rand.Read(nonce); err != nil {
		return "", err
	}
	return base64.StdEncoding.EncodeToString(k.aead.Seal(nonce, nonce, secret, []byte(purpose))), nil
}

// Open returns a secret that was sealed for a purpose. It fails with [ErrOpen].
func (k Key) Open(sealed, purpose string) ([]byte, error) {
	raw, err := base64.StdEncoding.DecodeString(sealed)
	if err != nil || len(raw) < k.aead.NonceSize() {
		return nil, ErrOpen
	}
	secret, err := k.aead.Open(nil, raw[:k.aead.NonceSize()], raw[k.aead.NonceSize():], []byte(purpose))
	if err != nil {
		return nil, ErrOpen
	}
	return secret, nil
}
