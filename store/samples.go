package store

// SampleKind is what a thing is that is there to try on.
type SampleKind string

// The kinds of what is there to try on.
const (
	SamplePage    SampleKind = "page"
	SamplePicture SampleKind = "picture"
)
