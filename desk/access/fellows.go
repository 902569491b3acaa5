package access

import (
	"context"
	"encoding/json"
	"log/slog"
	"slices"
	"sync"
	"time"

	"mivlet/desk/presence"
)

// Several programs may work on one house. What one of them keeps in memory of it, the others are told when it
// changes: each room says what it does about that.

// fellows is what is done about what other programs tell.
type fellows struct {
	mu     sync.Mutex
	about  map[string][]func(from string, of json.RawMessage)
	missed []func()
	gone   []func(programs []string)
}

// told is what programs tell each other.
type told struct {
	About string          `json:"about"`
	Of    json.RawMessage `json:"of,omitempty"`
}

// Alone reports whether no other program can work on the house.
func (h *House) Alone() bool { return h.Store.Fellows == nil }

// Program is what this program is called among those that work on the house; empty where it is alone.
func (h *House) Program() string {
	if h.Alone() {
		return ""
	}
	return h.Store.Fellows.Self()
}

// Tell tells the other programs of the house about something. What does not reach them is made good when they
// hear the next time that they may have missed something.
func (h *House) Tell(about string, of any) {
	if h.Alone() {
		return
	}
	text, err := json.Marshal(of)
	if err == nil {
		text, err = json.Marshal(told{about, text})
	}
	if err == nil {
		err = h.Store.Fellows.Tell(string(text))
	}
	if err != nil {
		slog.Warn("the other programs of the house could not be told", "about", about, "error", err)
	}
}

// Heard says what is done when other programs tell about something.
func Heard[T any](h *House, about string, do func(from string, of T)) {
	h.fellows.mu.Lock()
	defer h.fellows.mu.Unlock()
	if h.fellows.about == nil {
		h.fellows.about = map[string][]func(string, json.RawMessage){}
	}
	h.fellows.about[about] = append(h.fellows.about[about], func(from string, text json.RawMessage) {
		var of T
		if err := json.Unmarshal(text, &of); err != nil {
			slog.Warn("another program told something that cannot be read", "about", about, "error", err)
			return
		}
		do(from, of)
	})
}

// Missed says what is done when others may have told something that was not heard.
func (h *House) Missed(do func()) {
	h.fellows.mu.Lock()
	defer h.fellows.mu.Unlock()
	h.fellows.missed = append(h.fellows.missed, do)
}

// Gone says what is done every two seconds about the programs that work on the house now: what others had
// begun that have ended is theirs no longer, and what they did just before nobody may have been told.
func (h *House) Gone(do func(programs []string)) {
	h.fellows.mu.Lock()
	defer h.fellows.mu.Unlock()
	h.fellows.gone = append(h.fellows.gone, do)
}

// lookEvery is how often it is looked which programs are left.
const lookEvery = 2 * time.Second

// Listen hears what other programs of the house tell, and tells them who is in which room, until ctx ends.
func (h *House) Listen(ctx context.Context) {
	if h.Alone() {
		return
	}
	var all sync.WaitGroup
	defer all.Wait()
	all.Go(func() {
		h.Rooms.Share(ctx, func(room string, there []presence.There) { h.Tell(aboutRooms, roomTold{room, there}) })
	})
	all.Go(func() { h.lookForGone(ctx) })
	h.Store.Fellows.Hear(ctx, h.heard, func(context.Context) {
		h.fellows.mu.Lock()
		missed := slices.Clone(h.fellows.missed)
		h.fellows.mu.Unlock()
		for _, do := range missed {
			do()
		}
	})
}

func (h *House) heard(from, text string) {
	var t told
	if err := json.Unmarshal([]byte(text), &t); err != nil {
		slog.Warn("another program told something that cannot be read", "error", err)
		return
	}
	h.fellows.mu.Lock()
	doing := slices.Clone(h.fellows.about[t.About])
	h.fellows.mu.Unlock()
	for _, do := range doing {
		do(from, t.Of)
	}
}

func (h *House) lookForGone(ctx context.Context) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		programs, err := h.Store.Fellows.Programs(ctx)
		if err != nil || !slices.Contains(programs, h.Program()) { // the database may have been away
			continue
		}
		h.fellows.mu.Lock()
		gone := slices.Clone(h.fellows.gone)
		h.fellows.mu.Unlock()
		for _, do := range gone {
			do(programs)
		}
	}
}

// What the house itself is told about.
const (
	aboutRooms = "rooms"
	aboutAgain = "again"
	aboutRules = "rules"
)

// roomTold is who is in a room by the program that tells it.
type roomTold struct {
	Room  string           `json:"room"`
	There []presence.There `json:"there"`
}

// hearOwn says what the house does itself about what others tell.
func (h *House) hearOwn() {
	Heard(h, aboutRooms, func(from string, of roomTold) { h.Rooms.Heard(from, of.Room, of.There) })
	Heard(h, aboutAgain, func(string, struct{}) { h.Rooms.Again() })
	Heard(h, aboutRules, func(string, uint) { h.readRules() })
	h.Missed(func() {
		h.readRules()
		h.Rooms.Again()
		h.Tell(aboutAgain, struct{}{})
		h.Rooms.NotifyAll()
	})
	h.Gone(func(programs []string) {
		h.Rooms.Only(programs)
		if number, err := h.Store.RulesNumber(); err == nil && number != h.rules.Load().Number {
			h.readRules()
		}
	})
}

// readRules reads the rules that hold anew.
func (h *House) readRules() {
	r, number, err := h.Store.Rules()
	if err != nil {
		slog.Error("the house rules could not be read anew", "error", err)
		return
	}
	if number != h.rules.Load().Number {
		h.rules.Store(h.Version(r, number))
	}
}
