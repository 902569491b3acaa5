package presence

import (
	"context"
	"maps"
	"slices"
)

// Several programs may work on one house, and people in one room be connected to different ones. Each program tells
// the others who is in a room by it, whenever that or what is in the room has changed: all of it each time, so that
// nothing has to be put together, and what was not heard is made good by the next.

// There is somebody in a room, as programs tell each other.
type There struct {
	ID   uint   `json:"id"`
	Name string `json:"name"`
	At   string `json:"at,omitempty"`
}

// others is what is known of the other programs, and what is to be told to them.
type others struct {
	there map[string]map[string][]There // by program and room
	due   map[string]bool               // rooms that are to be told of; nil where nobody is told
	wake  chan struct{}
}

// everywhere stands for all rooms where something is told of all.
const everywhere = ""

// mostThere is how many people in a room others are told of.
const mostThere = 50

// there are all who are in a room: those who came by this program, then the others.
func (r *Rooms) there(room string) []There {
	all := r.own(room)
	for _, program := range slices.Sorted(maps.Keys(r.others.there)) {
		all = append(all, r.others.there[program][room]...)
	}
	return all
}

// own are those who are in a room by this program.
func (r *Rooms) own(room string) []There {
	all := make([]There, 0, len(r.all[room]))
	for _, v := range r.all[room] {
		all = append(all, There{v.who.ID, v.who.Name, v.at})
	}
	return all
}

// pass notes that others are to be told of a room.
func (r *Rooms) pass(room string) {
	if r.others.due == nil {
		return
	}
	r.others.due[room] = true
	select {
	case r.others.wake <- struct{}{}:
	default:
	}
}

// Share has tell tell other programs who is in a room by this one, whenever something changes there, until ctx
// ends; the room is empty where everybody is to look again. Changes that come while tell runs are told as one.
func (r *Rooms) Share(ctx context.Context, tell func(room string, there []There)) {
	r.mu.Lock()
	r.others.due, r.others.wake = map[string]bool{}, make(chan struct{}, 1)
	for room := range r.all { // who came before
		r.pass(room)
	}
	r.mu.Unlock()
	for {
		select {
		case <-ctx.Done():
			return
		case <-r.others.wake:
		}
		r.mu.Lock()
		due := map[string][]There{}
		for room := range r.others.due {
			some := r.own(room)
			due[room] = some[:min(len(some), mostThere)]
		}
		clear(r.others.due)
		r.mu.Unlock()
		for room, there := range due {
			tell(room, there)
		}
	}
}

// Again tells others of every room that somebody is in: they may have missed it.
func (r *Rooms) Again() {
	r.mu.Lock()
	defer r.mu.Unlock()
	for room := range r.all {
		r.pass(room)
	}
}

// Heard takes what another program told.
func (r *Rooms) Heard(program, room string, there []There) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if room == everywhere {
		r.tellAll()
		return
	}
	if r.others.there == nil {
		r.others.there = map[string]map[string][]There{}
	}
	if r.others.there[program] == nil {
		r.others.there[program] = map[string][]There{}
	}
	if r.others.there[program][room] = there; len(there) == 0 {
		delete(r.others.there[program], room)
	}
	r.tellHere(room)
}

// Only forgets who came by programs that are not among some: they have ended.
func (r *Rooms) Only(programs []string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for program, rooms := range r.others.there {
		if slices.Contains(programs, program) {
			continue
		}
		delete(r.others.there, program)
		for room := range rooms {
			r.tellHere(room)
		}
	}
}
