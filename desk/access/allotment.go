package access

import (
	"fmt"
	"time"

	"mivlet/core/fit"
	"mivlet/store"
)

// Allotment is what a house gets of the machines that it shares with others, by whoever runs them. What is 0 has no
// bound.
type Allotment struct {
	Pictures int   `toml:"pictures"`
	Bytes    int64 `toml:"bytes"` // of pictures as they arrived
	People   int   `toml:"people"`
	// Decoding is how long pictures of the house may be decoded each day, in minutes. When that is over, no more come in
	// until the next day; what is there already can be worked with and published.
	Decoding int `toml:"decoding_minutes"`
}

// Allotted is what the house gets.
func (h *House) Allotted() Allotment { return *h.allotted.Load() }

// Allot gives the house so much from now on. What it has already stays.
func (h *House) Allot(a Allotment) { h.allotted.Store(&a) }

// RoomForPicture refuses a picture of so many bytes where the house has no room left for it. It is asked in the
// transaction that adds the picture, so that no two take the same room.
func (h *House) RoomForPicture(s store.Records, bytes int64) error {
	a := h.Allotted()
	if a.Pictures == 0 && a.Bytes == 0 {
		return nil
	}
	pictures, held, err := s.Held()
	if err != nil {
		return err
	}
	const next = "Empty the bin, or ask whoever runs Mivlet for more room."
	switch {
	case a.Pictures > 0 && pictures >= a.Pictures:
		return Refuse(TooMuch, fmt.Sprintf("The house has %d pictures, as many as it may have.", pictures), next)
	case a.Bytes > 0 && held+bytes > a.Bytes:
		return Refuse(TooMuch, fmt.Sprintf("The house has room for %s of pictures, and %s are taken.", fit.Weight(a.Bytes), fit.Weight(held)), next)
	}
	return nil
}

// Decoded notes that something was decoded for the house.
func (h *House) Decoded(took time.Duration) { h.decoded.Add(int64(took)) }

// RoomToDecode refuses to take a picture in where the house has had its time for today.
func (h *House) RoomToDecode() error {
	a := h.Allotted()
	if a.Decoding == 0 {
		h.decoded.Store(0)
		return nil
	}
	day, took := h.rules.Load().Day(h.Now()), time.Duration(h.decoded.Swap(0))
	var today time.Duration
	err := h.Store.Tx(func(s store.Records) (err error) {
		today, err = s.AddDecoded(day, took)
		return err
	})
	if err != nil {
		h.Decoded(took)
		return err
	}
	if today >= time.Duration(a.Decoding)*time.Minute {
		return Refuse(TooMuch, fmt.Sprintf("The house has used up its %s of decoding for today.", Count(a.Decoding, "minute")), "Bring the pictures in tomorrow, or ask whoever runs Mivlet for more.")
	}
	return nil
}

// RoomForPerson refuses another account where the house may have no more.
func (h *House) RoomForPerson(s store.Records) error {
	a := h.Allotted()
	if a.People == 0 {
		return nil
	}
	n, err := s.CountPeople()
	if err == nil && n >= int64(a.People) {
		err = Refuse(TooMuch, fmt.Sprintf("The house has %d accounts, as many as it may have.", n), "Ask whoever runs Mivlet for more.")
	}
	return err
}
