// Package health answers whoever watches over the program: whether it runs, and whether it can serve
// (the two questions that supervisors of services ask; common practice).
package health

import (
	"context"
	"encoding/json"
	"log/slog"
	"net/http"
	"time"
)

// patience is how long one check may take.
const patience = 2 * time.Second

// The addresses that are asked.
const (
	Alive = "/healthz" // it runs
	Ready = "/readyz"  // it can serve: what it stands on answers, and it is not ending
)

// Check is one thing that serving stands on.
type Check struct {
	Name string
	Do   func(context.Context) error
}

// Answer answers both questions before next, and passes everything else on. They are answered under any
// name of the machine, and tell nothing that is kept in it: why a check failed is logged. ending is closed
// when the program ends.
func Answer(next http.Handler, ending <-chan struct{}, checks ...Check) http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET "+Alive, func(w http.ResponseWriter, _ *http.Request) {
		answer(w, http.StatusOK, map[string]string{"program": "ok"})
	})
	mux.HandleFunc("GET "+Ready, func(w http.ResponseWriter, r *http.Request) {
		status, all := http.StatusOK, map[string]string{"program": "ok"}
		select {
		case <-ending:
			status, all["program"] = http.StatusServiceUnavailable, "ending"
		default:
		}
		for _, c := range checks {
			ctx, stop := context.WithTimeout(r.Context(), patience)
			err := within(ctx, c.Do)
			stop()
			all[c.Name] = "ok"
			if err != nil {
				status, all[c.Name] = http.StatusServiceUnavailable, "failed"
				slog.Error("not ready", "check", c.Name, "error", err)
			}
		}
		answer(w, status, all)
	})
	mux.Handle("/", next)
	return mux
}

// within does a check, and waits for it no longer than ctx lasts.
func within(ctx context.Context, do func(context.Context) error) error {
	done := make(chan error, 1)
	go func() { done <- do(ctx) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		return ctx.Err()
	}
}

func answer(w http.ResponseWriter, status int, all map[string]string) {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(all)
}
