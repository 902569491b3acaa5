package derive

// Held is how many bytes of decoded pictures are kept.
func (d *Desk) Held() int64 {
	d.sources.mu.Lock()
	defer d.sources.mu.Unlock()
	return d.sources.held
}
