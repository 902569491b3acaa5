package store

import (
	"encoding/json"
	"time"
)

// Job is work that goes on beside the screens, kept so that it goes on when the program has been ended and
// started again.
type Job struct {
	ID       uint
	Kind     string // how its tasks are done; see desk/jobs
	About    uint   // what it is about, for kinds of which one goes on at a time about each thing; else 0
	Title    string
	PersonID uint      // who began it; 0 for the house itself
	Tasks    []JobTask `gorm:"serializer:json"`
	Done     int       // tasks that are over, done or failed
	Within   int       // steps that are done of the task that it is at; kept where several programs work on a house
	Failed   []string  `gorm:"serializer:json"` // what those said that failed
	BegunAt  time.Time
	EndedAt  *time.Time // nil while it goes on
	Stopped  bool       // somebody stopped it
	Program  string     // that does it; see [Fellows]. Empty where a house has no others, and until somebody takes it
}

// TableName is the table they are kept in.
func (Job) TableName() string { return "jobs" }

// JobTask is one piece of a job.
type JobTask struct {
	Steps int             `json:"steps"` // what it is worth
	Of    json.RawMessage `json:"of"`    // what it is done with, in a form of its kind's own
}
