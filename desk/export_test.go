package desk

// DecodingNow is how much memory decoding takes at this moment, in bytes, for tests.
func (d *Desk) DecodingNow() int64 { return d.budget.used.Load() }
