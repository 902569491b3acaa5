package store

import "context"

// Fellows are the other programs that work on the same house, on this machine or on others. A house that is kept
// in a folder has none.
type Fellows interface {
	// Self is what this program is called among them; another one each time it is started.
	Self() string
	// Programs returns the names of all programs that work on the house now, with this one.
	Programs(ctx context.Context) ([]string, error)
	// Moment is the time in microseconds since 1970 by a clock that all of them share.
	Moment() (int64, error)
	// Tell tells all others something of at most [MostTold] bytes.
	Tell(text string) error
	// Hear has heard called with what others tell, until ctx ends, and missed whenever they may have told
	// something that was not heard: at the beginning, too. One call comes after the other.
	Hear(ctx context.Context, heard func(from, text string), missed func(context.Context))
	// Alone waits until no other program does a duty, and does it then. The context that do gets ends with ctx, and
	// soon after others may begin to do the same. It returns when ctx has ended and do has returned.
	Alone(ctx context.Context, duty string, do func(context.Context))
}

// MostTold is how many bytes one can tell others at once.
const MostTold = 7500
