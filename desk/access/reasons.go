package access

// LeastReason is the fewest characters of a reason that is one.
const LeastReason = 10
