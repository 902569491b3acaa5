package lighter

// MakeResting is Make with what is done after each set of files.
var MakeResting = (*Desk).makeDue
