package access

import "errors"

// Sealer keeps secrets that are kept in records from those who can read those.
type Sealer interface {
	// Seal returns a secret as it may be kept. It can be opened for the same purpose only.
	Seal(secret []byte, purpose string) (string, error)
	// Open returns a secret that was sealed for a purpose.
	Open(sealed, purpose string) ([]byte, error)
}

// Keys gives the sealer when it is needed; nil where a house keeps no secrets.
type Keys func() (Sealer, error)

// Sealer is what keeps the secrets of the house.
func (k Keys) Sealer() (Sealer, error) {
	if k == nil {
		return nil, errors.New("no key was set up for secrets")
	}
	return k()
}
