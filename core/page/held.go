package page

import "time"

// Held is what a previewer of shared links keeps of a page: what it fetched at one time.
type Held struct {
	Address     string    `json:"address"`
	At          time.Time `json:"at"`                // when it was fetched
	Trouble     string    `json:"trouble,omitempty"` // why the page itself could not be read
	Title       string    `json:"title,omitempty"`
	Description string    `json:"description,omitempty"`
	Site        string    `json:"site,omitempty"`
	Large       bool      `json:"large"`             // the page asks for a large card
	Picture     string    `json:"picture,omitempty"` // its address
	Hash        string    `json:"hash,omitempty"`    // SHA-256 of its content, in hexadecimal digits
	Width       int       `json:"width,omitempty"`   // pixels
	Height      int       `json:"height,omitempty"`
	Alt         string    `json:"alt,omitempty"`
	Refused     Refusal   `json:"refused,omitempty"` // why there is no picture
	Because     string    `json:"because,omitempty"` // the same in a sentence
}

// Refusal is why a preview has no picture.
type Refusal string

// Why a preview has no picture.
const (
	NoPicture  Refusal = "none"     // the page names none
	Relative   Refusal = "relative" // its address is not a whole one
	Foreign    Refusal = "foreign"  // it lies where the previewer does not go
	Unanswered Refusal = "answer"   // it was not answered, or with an error
	WrongType  Refusal = "type"     // it is no picture, or of a type that is not shown
	TooHeavy   Refusal = "heavy"
	TooSmall   Refusal = "small"
)
