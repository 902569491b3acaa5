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
	CreatedAt    time.Time `gorm:"autoCreateTime:false"`
	Roles        []Role    `gorm:"foreignKey:PersonID"`
}

// TableName is the table people are kept in.
func (Person) TableName() string { return "people" }

// Role is what a person may do in one section: "contributor" or "publisher".
type Role struct {
	PersonID uint   `gorm:"primaryKey;autoIncrement:false"`
	Section  string `gorm:"primaryKey"`
	Role     string
}
