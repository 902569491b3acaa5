package traces

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"sync/atomic"
	"time"

	traced "go.opentelemetry.io/proto/otlp/trace/v1"
	"google.golang.org/protobuf/proto"
)

// collector is where spans are sent to (OpenTelemetry Protocol 1.9, OTLP/HTTP in binary form). The usual
// exporter does the same and brings all of gRPC along.
type collector struct {
	to   string
	by   *http.Client
	away atomic.Bool
}

// CheckAddress fails where spans cannot be sent to an address.
func CheckAddress(to string) error {
	u, err := url.Parse(to)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil || u.Fragment != "" {
		return fmt.Errorf("invalid address %q of a collector: write it as http://127.0.0.1:4318/v1/traces", to)
	}
	return nil
}

func newCollector(to string) (*collector, error) {
	return &collector{to: to, by: &http.Client{Timeout: 10 * time.Second}}, CheckAddress(to)
}

// Start does nothing: each sending stands for itself.
func (c *collector) Start(context.Context) error { return nil }

// Stop gives what it holds back.
func (c *collector) Stop(context.Context) error {
	c.by.CloseIdleConnections()
	return nil
}

// UploadTraces sends spans. What cannot be sent is lost; the log tells when that begins and ends, and not
// each time.
func (c *collector) UploadTraces(ctx context.Context, spans []*traced.ResourceSpans) error {
	err := c.send(ctx, spans)
	if was := c.away.Swap(err != nil); err != nil && !was {
		slog.Warn("traces cannot be sent, and are lost", "to", c.to, "error", err)
	} else if err == nil && was {
		slog.Info("traces are sent again", "to", c.to)
	}
	return err
}

func (c *collector) send(ctx context.Context, spans []*traced.ResourceSpans) error {
	// It has the same form as the request that the protocol names (ExportTraceServiceRequest).
	body, err := proto.Marshal(&traced.TracesData{ResourceSpans: spans})
	if err != nil {
		return err
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, c.to, bytes.NewReader(body))
	if err != nil {
		return err
	}
	r.Header.Set("Content-Type", "application/x-protobuf")
	answer, err := c.by.Do(r)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	_, _ = io.Copy(io.Discard, io.LimitReader(answer.Body, 1<<16))
	if answer.StatusCode/100 != 2 {
		return fmt.Errorf("the collector at %s answers %s", c.to, answer.Status)
	}
	return nil
}
