// Package metrics counts what the server does, for whoever looks after it: in the form that
// Prometheus reads, at an address of its own, with Go's own profiles beside it. Nothing in it
// says whose shop it is or what was measured.
package metrics

import (
	"database/sql"
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Metrics is what is counted.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	took     *prometheus.HistogramVec
	kept     prometheus.Counter
	assessed prometheus.Histogram
}

// Gauges are figures that are asked for when they are read; one that is nil is left out.
type Gauges struct {
	// Streams is how many screens follow the shop.
	Streams func() float64
	// BackupAge is the age of the last good backup in seconds; false where there is none.
	BackupAge func() (float64, bool)
	// CertificateLeft is how long the server's certificate still holds, in seconds; false
	// where it has none of its own.
	CertificateLeft func() (float64, bool)
	// Room is how many bytes may still be written where the database is; false where nobody
	// knows.
	Room func() (float64, bool)
}

// New counts for a server on a database.
func New(db *sql.DB, release string, gauges Gauges) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(prometheus.CounterOpts{
			Name: "grapnel_requests_total", Help: "Requests answered, by operation and status.",
		}, []string{"operation", "status"}),
		took: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "grapnel_request_seconds", Help: "How long requests took, by operation.",
			Buckets: []float64{.001, .0025, .005, .01, .025, .05, .1, .25, .5, 1, 2.5, 10},
		}, []string{"operation"}),
		kept: prometheus.NewCounter(prometheus.CounterOpts{
			Name: "grapnel_readings_kept_total", Help: "Readings kept, corrections and withdrawals among them.",
		}),
		assessed: prometheus.NewHistogram(prometheus.HistogramOpts{
			Name: "grapnel_assess_seconds", Help: "How long a case took to judge.",
			Buckets: []float64{.0005, .001, .0025, .005, .01, .025, .05, .1, .5, 2},
		}),
	}
	build := prometheus.NewGaugeVec(prometheus.GaugeOpts{Name: "grapnel_build_info", Help: "The release that runs."}, []string{"release"})
	build.WithLabelValues(release).Set(1)
	m.registry.MustRegister(m.requests, m.took, m.kept, m.assessed, build, collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}), collectors.NewDBStatsCollector(db, "grapnel"))
	if gauges.Streams != nil {
		m.registry.MustRegister(prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "grapnel_streams", Help: "Screens that follow the shop.",
		}, gauges.Streams))
	}
	m.maybe("grapnel_backup_age_seconds", "Age of the last good backup.", gauges.BackupAge)
	m.maybe("grapnel_certificate_seconds_left", "How long the server's certificate still holds.", gauges.CertificateLeft)
	m.maybe("grapnel_room_bytes", "How much may still be written where the private database is.", gauges.Room)
	return m
}

// sometimes is a gauge that may have no value.
type sometimes struct {
	desc *prometheus.Desc
	of   func() (float64, bool)
}

func (s sometimes) Describe(to chan<- *prometheus.Desc) { to <- s.desc }

func (s sometimes) Collect(to chan<- prometheus.Metric) {
	if value, ok := s.of(); ok {
		to <- prometheus.MustNewConstMetric(s.desc, prometheus.GaugeValue, value)
	}
}

func (m *Metrics) maybe(name, help string, of func() (float64, bool)) {
	if of != nil {
		m.registry.MustRegister(sometimes{prometheus.NewDesc(name, help, nil, nil), of})
	}
}

// Request counts one that was answered.
func (m *Metrics) Request(operation string, status int, took time.Duration) {
	m.requests.WithLabelValues(operation, strconv.Itoa(status)).Inc()
	m.took.WithLabelValues(operation).Observe(took.Seconds())
}

// Kept counts readings that were kept.
func (m *Metrics) Kept(readings int) { m.kept.Add(float64(readings)) }

// Assessed counts a case that was judged.
func (m *Metrics) Assessed(took time.Duration) { m.assessed.Observe(took.Seconds()) }

// Handler serves what was counted, and the profiles, to whoever may reach it.
func (m *Metrics) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{}))
	mux.HandleFunc("GET /debug/pprof/", pprof.Index)
	mux.HandleFunc("GET /debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("GET /debug/pprof/trace", pprof.Trace)
	mux.HandleFunc("GET /debug/pprof/symbol", pprof.Symbol)
	return mux
}
