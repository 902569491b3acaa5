package access

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/raster"
	"mivlet/store"
)

// Refusal is an act that was not done, told to the editor: what happened, and
// what to do next. Whatever was there before is still there.
type Refusal struct {
	Kind Kind
	What string
	Each []string // what it says of each of several places; most say all in What
	Next string
	Err  error
}

// Kind tells why an act was refused.
type Kind int

// The kinds of refusals.
const (
	Bad       Kind = iota // what was given cannot be used
	Missing               // what was asked for is not there
	Clash                 // it was changed in between, or is in use
	TooMuch               // beyond a limit
	SignIn                // nobody is signed in
	Forbidden             // it is not theirs to do
	TooSoon               // has to wait
)

func (r *Refusal) Error() string {
	return strings.TrimSpace(strings.Join(slices.Concat([]string{r.What}, r.Each, []string{r.Next}), " "))
}

// Unwrap returns the cause.
func (r *Refusal) Unwrap() error { return r.Err }

// Refuse is a refusal: what happened, and what to do next.
func Refuse(k Kind, what, next string) *Refusal { return &Refusal{Kind: k, What: what, Next: next} }

// Because is [Refuse] where something has led to it.
func Because(k Kind, what, next string, cause error) *Refusal {
	return &Refusal{Kind: k, What: what, Next: next, Err: cause}
}

// NotFound turns the store's word for nothing into a refusal.
func NotFound(err error, what string) error {
	if errors.Is(err, store.ErrNotFound) {
		return Because(Missing, what+" is not here any more.", "Go back and look again.", err)
	}
	return err
}

// RefuseFile tells why a file that came in is not taken.
func (d *Seat) RefuseFile(name string, err error) error {
	var kind *facts.TypeError
	var limit *raster.LimitError
	taken := "The house takes " + strings.Join(d.Rules().Taken(), ", ") + "."
	switch {
	case errors.Is(err, facts.ErrEmpty):
		return Because(Bad, fmt.Sprintf("%s is empty: it has no bytes.", name), "Copy it from the camera again.", err)
	case errors.As(err, &kind) && kind.Kind == facts.ErrNotPicture:
		return Because(Bad, fmt.Sprintf("%s is not a picture: its content is %s.", name, plainType(kind.MediaType)), taken, err)
	case errors.As(err, &kind) && kind.Way != "":
		return Because(Bad, fmt.Sprintf("%s is whole, but it is written with %s, which Mivlet does not read.", name, kind.Way),
			"Open it in a program for pictures, save it as a usual JPEG or PNG, and bring that.", err)
	case errors.As(err, &kind):
		return Because(Bad, fmt.Sprintf("%s is a kind of picture that Mivlet does not take (%s).", name, kind.MediaType), taken, err)
	case errors.As(err, &limit) && limit.What == "frames":
		return Because(TooMuch, fmt.Sprintf("%s has %d frames. The house allows at most %d.", name, limit.Value, limit.Limit), "Make a shorter one and bring that instead.", err)
	case errors.As(err, &limit) && limit.What == "memory":
		return Because(TooMuch, fmt.Sprintf("%s takes %d MB of memory when it is opened, and this machine gives %d MB.", name, limit.Value/1_000_000, limit.Limit/1_000_000), "Make a smaller copy and bring that instead.", err)
	case errors.As(err, &limit) && limit.What == "pixels of all frames":
		return Because(TooMuch, fmt.Sprintf("All frames of %s together have %d megapixels. The house allows at most %d.", name, limit.Value/1_000_000, limit.Limit/1_000_000), "Make a smaller or a shorter one and bring that instead.", err)
	case errors.As(err, &limit):
		return Because(TooMuch, fmt.Sprintf("%s says that it measures %d × %d pixels. The house allows less (%s).",
			name, limit.Size.W, limit.Size.H, d.limitWords(limit.What)), "Make a smaller copy and bring that instead.", err)
	case errors.Is(err, raster.ErrCutOff):
		return Because(Bad, fmt.Sprintf("%s is incomplete: it ends in the middle of the picture.", name), "Copy it again from the camera or the folder.", err)
	case errors.Is(err, facts.ErrDamaged):
		return Because(Bad, fmt.Sprintf("%s is damaged and cannot be read.", name), "Copy it from the camera again.", err)
	}
	return err
}

// TooLarge is the refusal of a file beyond the house's limit of bytes.
func (d *Seat) TooLarge(name string) *Refusal {
	return Refuse(TooMuch, fmt.Sprintf("%s is larger than %d MB, the most the house takes.", name, d.Rules().Limits.Bytes/1_000_000),
		"Make a smaller copy and bring that instead.")
}

func (d *Seat) limitWords(what string) string {
	if what == "side" {
		return fmt.Sprintf("at most %d on a side", d.Rules().Limits.Side)
	}
	return fmt.Sprintf("at most %d megapixels", d.Rules().Limits.Pixels/1_000_000)
}

func plainType(mediaType string) string {
	kind, _, _ := strings.Cut(mediaType, ";")
	switch {
	case strings.HasPrefix(kind, "text/"):
		return "text"
	case strings.HasPrefix(kind, "video/"):
		return "a video"
	case strings.HasPrefix(kind, "audio/"):
		return "sound"
	case kind == "application/pdf":
		return "a PDF document"
	case kind == "application/octet-stream":
		return "nothing that can be recognised"
	}
	return kind
}

// LeastReason is the fewest characters of a reason that is one.
const LeastReason = 10
