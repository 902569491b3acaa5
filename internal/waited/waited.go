// Package waited lets long reading end when nobody waits for it any more.
package waited

import (
	"context"
	"io"
)

// Reader reads from r until ctx ends, whose error it fails with then.
func Reader(ctx context.Context, r io.Reader) io.Reader { return reader{ctx, r} }

type reader struct {
	ctx context.Context
	r   io.Reader
}

func (r reader) Read(p []byte) (int, error) {
	if err := r.ctx.Err(); err != nil {
		return 0, err
	}
	return r.r.Read(p)
}
