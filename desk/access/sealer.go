package access

// Sealer keeps secrets that are kept in records from those who can read those.
type Sealer interface {
	// Seal returns a secret as it may be kept. It can be opened for the same purpose only.
	Seal(secret []byte, purpose string) (string, error)
	// Open returns a secret that was sealed for a purpose.
	Open(sealed, purpose string) ([]byte, error)
}
