// Package metrics counts what the program does, for whoever watches over many of them: in the text form
// that Prometheus reads, at an address of its own. It tells numbers and the forms of addresses, and
// nothing that is kept in the house.
package metrics

import (
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Path is where they are told (common practice).
const Path = "/metrics"

// Gauge is a number that is asked for when somebody looks. Its name ends with its unit.
type Gauge struct {
	Name, Help string
	Now        func() float64
}

// Metrics are the numbers of one program.
type Metrics struct {
	registry *prometheus.Registry
	took     *prometheus.HistogramVec
	received prometheus.Counter
	sent     prometheus.Counter
}

// New returns the numbers of the program itself and those of gauges.
func New(gauges ...Gauge) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		took: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "mivlet_http_request_duration_seconds", Help: "How long requests took, by the form of their address.",
			Buckets: []float64{.005, .02, .05, .1, .25, .5, 1, 2.5, 5, 10, 30},
		}, []string{"method", "route", "status"}),
		received: prometheus.NewCounter(prometheus.CounterOpts{Name: "mivlet_http_received_bytes_total", Help: "Bytes of all requests."}),
		sent:     prometheus.NewCounter(prometheus.CounterOpts{Name: "mivlet_http_sent_bytes_total", Help: "Bytes of all answers."}),
	}
	m.registry.MustRegister(m.took, m.received, m.sent, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	m.Watch(gauges...)
	return m
}

// Watch adds numbers that are asked for when somebody looks.
func (m *Metrics) Watch(gauges ...Gauge) {
	for _, g := range gauges {
		m.registry.MustRegister(prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: g.Name, Help: g.Help}, g.Now))
	}
}

// Request is one that was answered.
type Request struct {
	Method, Route  string // the form of its address, such as /pages/{id}; empty where there is none
	Status         int
	Took           time.Duration
	Received, Sent int64 // bytes; Received is below 0 where it is not known
}

// known are the methods that have a number of their own: anybody can send others.
var known = map[string]bool{http.MethodGet: true, http.MethodHead: true, http.MethodPost: true, http.MethodPut: true, http.MethodDelete: true}

// Count counts a request.
func (m *Metrics) Count(r Request) {
	if !known[r.Method] {
		r.Method = "other"
	}
	if r.Route == "" {
		r.Route = "none"
	}
	m.took.WithLabelValues(r.Method, r.Route, strconv.Itoa(r.Status)).Observe(r.Took.Seconds())
	m.received.Add(float64(max(r.Received, 0)))
	m.sent.Add(float64(r.Sent))
}

// Handler tells the numbers at [Path].
func (m *Metrics) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET "+Path, promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{}))
	return mux
}
