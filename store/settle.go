package store

// Counts is how much waits where.
type Counts struct {
	Arrivals int64 // pictures of some sections that have arrived
	Bench    int64 // pictures of some sections on the bench
	Shelves  int64 // pictures on all shelves
	Live     int64 // pages that visitors see
	Changed  int64 // live pages whose drafts differ from what visitors see
	Findings int64 // of what is live, which nobody has decided about
}

// PageTitle is a page in a short list.
type PageTitle struct {
	ID      uint
	Section string
	Slug    string
	Title   string
	Live    bool
	Differs bool
	Shows   bool // its draft shows the picture that was asked for
}
