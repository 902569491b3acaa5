//go:build !amd64

package face

// Elsewhere everything is plain Go.
var wide, wider = false, false

func mixWide(*mixing)                      {}
func mixWider(*mixing)                     {}
func channelsWide(*channeling)             {}
func largestWide(_, _ *float32, _ int)     {}
func pairMoreWide(_, _ *float32, _, _ int) {}
func pairWide(_, _ *float32, _, _ int)     {}
func rectifyWide(*float32, int, float32)   {}
