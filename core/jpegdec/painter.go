package jpegdec

// A painter turns blocks into pixels while the next ones are read.
type painter struct {
	filling *strokes
	full    chan *strokes
	empty   chan *strokes
	ended   chan struct{}
}

// strokes are blocks that are handed over together, few enough to stay near the processor.
type strokes struct {
	used int
	of   [96]struct {
		block
		c    *component
		x, y int
	}
}

// ahead is how many strokes there are: what is read, what is drawn, and some between the two.
const ahead = 6

// newPainter begins to draw.
func newPainter() *painter {
	p := &painter{full: make(chan *strokes, ahead), empty: make(chan *strokes, ahead), ended: make(chan struct{})}
	for range ahead {
		p.empty <- new(strokes)
	}
	p.filling = <-p.empty
	go func() {
		defer close(p.ended)
		var with brush
		for s := range p.full {
			for i := range s.of[:s.used] {
				b := &s.of[i]
				with.draw(b.c, &b.block, b.x, b.y)
			}
			s.used = 0
			p.empty <- s
		}
	}()
	return p
}

// next is an empty block for a place, which is drawn when further ones have been asked for.
func (p *painter) next(c *component, x, y int) *block {
	if p.filling.used == len(p.filling.of) {
		p.full <- p.filling
		p.filling = <-p.empty
	}
	b := &p.filling.of[p.filling.used]
	p.filling.used++
	b.block = block{}
	b.c, b.x, b.y = c, x, y
	return &b.block
}

// done waits until all is drawn.
func (p *painter) done() {
	p.full <- p.filling
	close(p.full)
	<-p.ended
}
