// Package metrics counts what a server does, in the text format that Prometheus reads.
package metrics

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"uvent/store"
)

// Metrics are those of one server. It is safe for concurrent use.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	calls    *prometheus.HistogramVec
	letters  *prometheus.CounterVec
}

// How long something took, in seconds.
var seconds = []float64{.005, .01, .025, .05, .1, .25, .5, 1, 2.5, 5, 10, 30}

// New makes those of a server on a database.
func New(s *store.Store) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "uvent_request_seconds", Help: "How long requests took, by operation of the contract (empty for files) and status.", Buckets: seconds,
		}, []string{"operation", "method", "status"}),
		calls: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "uvent_call_seconds", Help: "How long directories' interfaces took, by directory and what came of it: yes, no or nothing.", Buckets: seconds,
		}, []string{"directory", "answer"}),
		letters: prometheus.NewCounterVec(prometheus.CounterOpts{
			Name: "uvent_letters_total", Help: "Letters given to the mail server, by what came of it: taken, refused or nothing.",
		}, []string{"answer"}),
	}
	m.registry.MustRegister(
		m.requests,
		m.calls,
		m.letters,
		inDatabase{s},
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
	)
	return m
}

// Handler answers with all of them.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{Timeout: 10 * time.Second, ErrorHandling: promhttp.ContinueOnError})
}

// Request counts a request that was answered.
func (m *Metrics) Request(operation, method string, status int, took time.Duration) {
	m.requests.WithLabelValues(operation, method, strconv.Itoa(status)).Observe(took.Seconds())
}

// Call counts something that a directory was asked.
func (m *Metrics) Call(directory, answer string, took time.Duration) {
	m.calls.WithLabelValues(directory, answer).Observe(took.Seconds())
}

// Letter counts a letter that was given to the mail server.
func (m *Metrics) Letter(answer string) { m.letters.WithLabelValues(answer).Inc() }

// inDatabase reads what all servers on a database share, whenever it is asked for.
type inDatabase struct{ store *store.Store }

var (
	jobs     = prometheus.NewDesc("uvent_jobs", "Jobs that are not done, by kind and state.", []string{"kind", "state"}, nil)
	oldest   = prometheus.NewDesc("uvent_jobs_oldest_seconds", "How long the oldest job of a kind waits past its time.", []string{"kind"}, nil)
	waiting  = prometheus.NewDesc("uvent_calls_waiting", "What directories are asked and have not answered.", []string{"directory"}, nil)
	since    = prometheus.NewDesc("uvent_calls_oldest_seconds", "Since when the oldest of them is asked.", []string{"directory"}, nil)
	unsealed = prometheus.NewDesc("uvent_events_unsealed", "Events of the log that are not sealed yet.", nil, nil)
	pool     = prometheus.NewDesc("uvent_database_connections", "Connections to the database, by state.", []string{"state"}, nil)
	boards   = prometheus.NewDesc(
		"uvent_board_reads_total",
		"Reads of boards, by the server they were made on, where a replica is named.",
		[]string{"server"},
		nil,
	)
	reads = prometheus.NewDesc("uvent_database_read", "Whether these could be read from the database.", nil, nil)
)

// Describe lists them.
func (inDatabase) Describe(to chan<- *prometheus.Desc) {
	for _, d := range []*prometheus.Desc{jobs, oldest, waiting, since, unsealed, pool, boards, reads} {
		to <- d
	}
}

// Collect reads them; where the database does not answer, only that is told.
func (d inDatabase) Collect(to chan<- prometheus.Metric) {
	gauge := func(what *prometheus.Desc, value float64, labels ...string) {
		to <- prometheus.MustNewConstMetric(what, prometheus.GaugeValue, value, labels...)
	}
	stat := d.store.Pool.Stat()
	gauge(pool, float64(stat.AcquiredConns()), "busy")
	gauge(pool, float64(stat.IdleConns()), "idle")
	gauge(pool, float64(stat.MaxConns()), "most")
	if database, replica, named := d.store.Reads(); named {
		to <- prometheus.MustNewConstMetric(boards, prometheus.CounterValue, float64(database), "database")
		to <- prometheus.MustNewConstMetric(boards, prometheus.CounterValue, float64(replica), "replica")
	}
	ctx, done := context.WithTimeout(context.Background(), 5*time.Second)
	defer done()
	if err := d.read(ctx, gauge); err != nil {
		gauge(reads, 0)
		return
	}
	gauge(reads, 1)
}

func (d inDatabase) read(ctx context.Context, gauge func(*prometheus.Desc, float64, ...string)) error {
	open, err := d.store.OpenJobs(ctx)
	if err != nil {
		return err
	}
	late := map[string]float64{}
	for _, j := range open {
		gauge(jobs, float64(j.Jobs), j.Kind, j.State)
		late[j.Kind] = max(late[j.Kind], j.Late)
	}
	for kind, seconds := range late {
		gauge(oldest, seconds, kind)
	}
	calls, err := d.store.WaitingCalls(ctx)
	if err != nil {
		return err
	}
	for _, c := range calls {
		gauge(waiting, float64(c.Calls), c.DirectoryID)
		gauge(since, c.Oldest, c.DirectoryID)
	}
	loose, err := d.store.CountUnsealed(ctx)
	if err != nil {
		return err
	}
	gauge(unsealed, float64(loose))
	return nil
}
