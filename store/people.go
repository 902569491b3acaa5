package store

import "time"

// Person is somebody who works with Mivlet.
type Person struct {
	ID       uint
	Name     string
	Login    string // unique, case does not count
	Password string // hash; empty: cannot sign in with one
	Keeper   bool   // keeps the house: rules, people, all sections
	Away     bool   // may no longer sign in; the name stays on what was done
	Epoch    int    // counts up where all sessions end
	// Invitation is the hash of the one that is open; empty where none is. InvitedUntil is when it ends.
	Invitation   string
	InvitedUntil time.Time `gorm:"default:null"`
	// Issuer and Subject say whose account it is with the provider that they sign in with (OpenID Connect
	// Core 1.0, 5.7: the two together never change); both empty where they came by no provider.
	Issuer, Subject string
	// Second is the sealed secret of their second step; empty where they have none. SecondUsed is the
	// number of the last code that was taken (RFC 6238, 4.2), SecondSpare the hashes of codes for
	// whoever has lost what makes them.
	Second      string
	SecondUsed  int64
	SecondSpare []string  `gorm:"serializer:json"`
	CreatedAt   time.Time `gorm:"autoCreateTime:false"`
	Roles       []Role    `gorm:"foreignKey:PersonID"`
}

// TableName is the table people are kept in.
func (Person) TableName() string { return "people" }

// Role is what a person may do in one section: "contributor" or "publisher".
type Role struct {
	PersonID uint   `gorm:"primaryKey;autoIncrement:false"`
	Section  string `gorm:"primaryKey"`
	Role     string
}

// Provider keeps accounts elsewhere, such as those of a school, which people sign in with (OpenID
// Connect Core 1.0).
type Provider struct {
	ID       uint // 1: a house has one at most
	Title    string
	Issuer   string      // its address
	ClientID string      // what this house is called there
	Secret   string      // sealed
	Claim    string      // in which it tells the groups of a person; "" where it tells none
	NewComer bool        // whoever has an account there gets one here at the first sign-in
	Groups   []GroupRole `gorm:"serializer:json"`
}

// TableName is the table it is kept in.
func (Provider) TableName() string { return "provider" }

// GroupRole is what people of a group may do in a section.
type GroupRole struct {
	Group   string `json:"group"`
	Section string `json:"section"`
	Role    string `json:"role"` // contributor or publisher
}

// Passkey is what somebody signs in with instead of a password (Web Authentication Level 3).
type Passkey struct {
	ID       uint
	PersonID uint
	Handle   string // opaque, of the person: the same for all of theirs
	KeyID    string // unique, in base64url
	Kept     string // JSON of what its answers are checked with; nothing in it is secret
	Browser  string // that it was added with
	AddedAt  time.Time
	UsedAt   time.Time `gorm:"default:null"`
}

// TableName is the table they are kept in.
func (Passkey) TableName() string { return "passkeys" }

// SignedIn is where a person is signed in.
type SignedIn struct {
	ID            uint
	PersonID      uint
	Since, SeenAt time.Time
	Browser       string // such as Firefox on Windows
}

// TableName is the table they are kept in.
func (SignedIn) TableName() string { return "signed_in" }
