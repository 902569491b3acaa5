package relational

import (
	"context"
	"sync/atomic"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Watcher is shown a statement after it has run; writing tells that it ran where
// only one at a time writes.
type Watcher func(statement string, writing bool)

// watched is who is shown the statements of a store; nobody where it is empty.
type watched struct{ by atomic.Pointer[Watcher] }

// Watch shows every statement that is run from now on to see, which must be safe
// for concurrent use; nil ends it. It is for measuring.
func (s *Records) Watch(see Watcher) {
	if see == nil {
		s.watched.by.Store(nil)
		return
	}
	s.watched.by.Store(&see)
}

// Exec runs a statement on the records as they lie there, for tests and measurements.
func (s *Records) Exec(statement string, args ...any) error {
	return s.write.Exec(statement, args...).Error
}

// OpenConnections returns how many connections to the records are open.
func (s *Records) OpenConnections() int {
	n := 0
	for _, db := range []*gorm.DB{s.read, s.write} {
		if pool, err := db.DB(); err == nil {
			n += pool.Stats().OpenConnections
		}
	}
	return n
}

// watch shows the statements of one pool. What goes wrong is told by the errors, not
// here.
type watch struct {
	*watched
	writing bool
}

// Trace shows one statement.
func (w *watch) Trace(_ context.Context, _ time.Time, told func() (string, int64), _ error) {
	if see := w.by.Load(); see != nil {
		statement, _ := told()
		(*see)(statement, w.writing)
	}
}

// LogMode is the same: there are no levels.
func (w *watch) LogMode(logger.LogLevel) logger.Interface { return w }

// Info, Warn and Error say nothing.
func (w *watch) Info(context.Context, string, ...any) {}

func (w *watch) Warn(context.Context, string, ...any) {}

func (w *watch) Error(context.Context, string, ...any) {}
