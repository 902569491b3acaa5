// Package traces tells whoever watches over the program how long the parts of each request and of each
// task took, in the form of OpenTelemetry (OTLP over HTTP). It tells the forms of addresses, durations and
// what kind of work was done; nothing that is kept in the house, and nobody's name or address.
//
// It is off until [Start] is called; what was not asked for costs next to nothing.
package traces

import (
	"context"
	"errors"
	"net/http"
	"time"

	"go.opentelemetry.io/otel"
	"go.opentelemetry.io/otel/attribute"
	"go.opentelemetry.io/otel/codes"
	"go.opentelemetry.io/otel/exporters/otlp/otlptrace"
	"go.opentelemetry.io/otel/sdk/resource"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	semconv "go.opentelemetry.io/otel/semconv/v1.37.0"
	"go.opentelemetry.io/otel/trace"
)

// name is what the spans come from.
const name = "mivlet"

// Start has all that follows sent to a collector, at an address such as
// http://127.0.0.1:4318/v1/traces. end sends what is left and stops; it may be called with a context
// that ends.
func Start(to, version string) (end func(context.Context) error, err error) {
	c, err := newCollector(to)
	if err != nil {
		return nil, err
	}
	sent, err := otlptrace.New(context.Background(), c)
	if err != nil {
		return nil, err
	}
	from := resource.NewWithAttributes(semconv.SchemaURL, semconv.ServiceName(name), semconv.ServiceVersion(version))
	provider := sdk.NewTracerProvider(sdk.WithBatcher(sent, sdk.WithBatchTimeout(sendEvery)), sdk.WithResource(from))
	otel.SetTracerProvider(provider)
	otel.SetErrorHandler(otel.ErrorHandlerFunc(func(error) {})) // the collector tells of what was lost
	return provider.Shutdown, nil
}

// sendEvery is how long spans are gathered.
const sendEvery = 2 * time.Second

// known are the methods that are told by their names: anybody can send others.
var known = map[string]bool{http.MethodGet: true, http.MethodHead: true, http.MethodPost: true, http.MethodPut: true, http.MethodDelete: true}

// Request begins the span of a request that somebody sent. end tells how it was answered; route is the
// form of its address, without what was asked for, and empty where there is none.
//
// Whoever asks cannot have it belong to a trace of theirs: what they say of one is not read.
func Request(ctx context.Context, method string) (_ context.Context, end func(route string, status int)) {
	if !known[method] {
		method = "_OTHER" // OpenTelemetry's semantic conventions for HTTP
	}
	ctx, span := otel.Tracer(name).Start(ctx, method, trace.WithNewRoot(), trace.WithSpanKind(trace.SpanKindServer))
	return ctx, func(route string, status int) {
		if span.IsRecording() {
			span.SetAttributes(semconv.HTTPRequestMethodKey.String(method), semconv.HTTPResponseStatusCode(status))
			if route != "" {
				span.SetName(method + " " + route)
				span.SetAttributes(semconv.HTTPRoute(route))
			}
			if status >= http.StatusInternalServerError {
				span.SetStatus(codes.Error, "")
			}
		}
		span.End()
	}
}

// Part begins the span of a part of the work that ctx is for. end says with which error it ended; of that,
// only whether there was one is told.
func Part(ctx context.Context, what string, numbers ...Number) (_ context.Context, end func(error)) {
	ctx, span := otel.Tracer(name).Start(ctx, what)
	if span.IsRecording() {
		for _, n := range numbers {
			span.SetAttributes(attribute.Int64(n.What, n.Is))
		}
	}
	return ctx, func(err error) {
		if err != nil && !errors.Is(err, context.Canceled) {
			span.SetStatus(codes.Error, "")
		}
		span.End()
	}
}

// Number is something that is told with a part, such as how many bytes it needed.
type Number struct {
	What string // with its unit
	Is   int64
}
