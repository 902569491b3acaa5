package browser

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"golang.org/x/net/websocket"
)

// origin is what whoever speaks with the browser says to come from: it hears nobody else.
const origin = "http://mivlet.invalid"

// protocol speaks the DevTools protocol with a browser (chromedevtools.github.io/devtools-protocol, from memory): commands
// and answers in JSON, told apart by numbers, and events between them. It is safe for concurrent use.
type protocol struct {
	to   *websocket.Conn
	send sync.Mutex

	mu      sync.Mutex
	last    int
	waiting map[int]chan reply
	events  map[event]chan struct{}
	err     error // why nothing comes any more
}

// event is something that happens once in a tab, and is waited for.
type event struct{ session, method string }

type reply struct {
	Result json.RawMessage
	Error  *struct {
		Message string `json:"message"`
	}
}

// mostAnswered is how long an answer may be, in bytes: a picture of a strip of a page.
const mostAnswered = 64 << 20

// speak connects with a browser, once it listens.
func (c *chromium) speak(ctx context.Context) (*protocol, error) {
	noted := filepath.Join(c.profile, "DevToolsActivePort") // its port and its path, each on a line
	tick := time.NewTicker(20 * time.Millisecond)
	defer tick.Stop()
	for deadline := time.After(quiet); ; {
		told, _ := os.ReadFile(noted) // it may not be there yet
		if port, path, ok := strings.Cut(strings.TrimSpace(string(told)), "\n"); ok {
			to, err := websocket.Dial("ws://127.0.0.1:"+port+path, "", origin)
			if err != nil {
				return nil, fmt.Errorf("%s does not answer: %w", c.program, err)
			}
			to.MaxPayloadBytes = mostAnswered
			p := &protocol{to: to, waiting: map[int]chan reply{}, events: map[event]chan struct{}{}}
			go p.listen()
			return p, nil
		}
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-c.gone:
			return nil, fmt.Errorf("%s ended at once: %w", c.program, c.err)
		case <-deadline:
			return nil, fmt.Errorf("%s does not tell where it listens", c.program)
		case <-tick.C:
		}
	}
}

// listen takes what comes, until the connection ends.
func (p *protocol) listen() {
	for {
		var m struct {
			ID        int    `json:"id"`
			Method    string `json:"method"`
			SessionID string `json:"sessionId"`
			reply
		}
		err := websocket.JSON.Receive(p.to, &m)
		p.mu.Lock()
		switch {
		case err != nil:
			p.err = errors.Join(errors.New("the browser says nothing any more"), err)
			for id, to := range p.waiting {
				close(to)
				delete(p.waiting, id)
			}
			p.mu.Unlock()
			return
		case m.ID != 0:
			if to := p.waiting[m.ID]; to != nil {
				to <- m.reply
				delete(p.waiting, m.ID)
			}
		default:
			if happened := p.events[event{m.SessionID, m.Method}]; happened != nil {
				close(happened)
				delete(p.events, event{m.SessionID, m.Method})
			}
		}
		p.mu.Unlock()
	}
}

// expect returns what is closed when something happens next in a tab.
func (p *protocol) expect(session, method string) <-chan struct{} {
	p.mu.Lock()
	defer p.mu.Unlock()
	happened := make(chan struct{})
	p.events[event{session, method}] = happened
	return happened
}

// call has the browser do something, in a tab or, with an empty session, as a whole, and reads the answer into result
// where that is not nil.
func (p *protocol) call(ctx context.Context, session, method string, params, result any) error {
	ctx, cancel := context.WithTimeout(ctx, quiet)
	defer cancel()
	answer := make(chan reply, 1)
	p.mu.Lock()
	if p.err != nil {
		p.mu.Unlock()
		return p.err
	}
	p.last++
	id := p.last
	p.waiting[id] = answer
	p.mu.Unlock()
	p.send.Lock()
	err := websocket.JSON.Send(p.to, struct {
		ID        int    `json:"id"`
		SessionID string `json:"sessionId,omitempty"`
		Method    string `json:"method"`
		Params    any    `json:"params,omitempty"`
	}{id, session, method, params})
	p.send.Unlock()
	if err != nil {
		return err
	}
	select {
	case <-ctx.Done():
		return ctx.Err()
	case r, ok := <-answer:
		if !ok {
			p.mu.Lock()
			defer p.mu.Unlock()
			return p.err
		}
		if r.Error != nil {
			return fmt.Errorf("%s: %s", method, r.Error.Message)
		}
		if result == nil {
			return nil
		}
		return json.Unmarshal(r.Result, result)
	}
}
