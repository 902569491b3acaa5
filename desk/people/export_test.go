package people

// Failures is how many tries at an account count as failed.
func Failures(d *Desk, account string) int {
	s := &d.passwords.byAccount
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.failed[guessed(account)].count
}
