package main

import (
	"fmt"
	"io"
	"log/slog"
)

// logger writes the log in a form: text for people, json for programs that gather logs.
func logger(form string, to io.Writer) (*slog.Logger, error) {
	switch form {
	case "", "text":
		return slog.Default(), nil
	case "json":
		return slog.New(slog.NewJSONHandler(to, nil)), nil
	}
	return nil, fmt.Errorf("invalid log %q: it is text or json", form)
}
