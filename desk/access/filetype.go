package access

import (
	"errors"
	"fmt"
	"io"

	"mivlet/core/facts"
	"mivlet/core/rules"
)

// JudgeFile tells what the house does with a file that its content says is of a media type. What
// it refuses is refused in its own words; of what it says nothing, nothing is told.
func (d *Seat) JudgeFile(in io.ReadSeeker, name, mediaType string) (kind rules.Type, known bool, err error) {
	head := make([]byte, 32)
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return kind, false, err
	}
	n, _ := io.ReadFull(in, head)
	if kind, known = d.Rules().Arriving(mediaType, head[:n]); known && kind.Do == rules.Refuse {
		return kind, known, Refuse(Bad, fmt.Sprintf("%s is not taken: %s.", name, kind.Title), kind.Say)
	}
	return kind, known, nil
}

// RefuseNoPicture is why a file that could not be read as a picture is refused here.
func (d *Seat) RefuseNoPicture(in io.ReadSeeker, name string, err error) error {
	var found *facts.TypeError
	if !errors.As(err, &found) {
		return d.RefuseFile(name, err)
	}
	switch kind, known, refused := d.JudgeFile(in, name, found.MediaType); {
	case refused != nil:
		return refused
	case known && kind.Own():
		return Because(Bad, fmt.Sprintf("%s is a file to download, not a picture.", name), "Bring it to Arrivals, or drop it into a gap of a page.", err)
	}
	return d.RefuseFile(name, err)
}
