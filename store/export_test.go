package store

// Exec runs a statement on the records behind the back of everything else, for tests.
func (s *Store) Exec(statement string) error { return s.write.Exec(statement).Error }
