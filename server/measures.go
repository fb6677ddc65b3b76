package server

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"copperlark/app"
)

// measures are what is counted for whoever runs the server.
type measures struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	seconds  *prometheus.HistogramVec
	bytes    *prometheus.CounterVec
}

func newMeasures(a *app.App) *measures {
	m := &measures{registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(
			prometheus.CounterOpts{Name: "lark_requests_total", Help: "Requests, by route, method and status."},
			[]string{"route", "method", "status"},
		),
		seconds: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{Name: "lark_request_seconds", Help: "Time until the answer was written, by route.",
				Buckets: []float64{0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 20, 60}},
			[]string{"route"},
		),
		bytes: prometheus.NewCounterVec(
			prometheus.CounterOpts{Name: "lark_response_bytes_total", Help: "Bytes of answers before compression, by route."},
			[]string{"route"},
		)}
	gauge := func(name, help string, of func() float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, of)
	}
	m.registry.MustRegister(
		m.requests,
		m.seconds,
		m.bytes,
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		gauge(
			"lark_held_bytes",
			"Bytes of tables, preparations, views and shared charts that are held in memory.",
			func() float64 { held, _, _ := a.Load(); return float64(held) },
		),
		gauge(
			"lark_work_weight",
			"Weight of the heavy work that is done now.",
			func() float64 { _, weight, _ := a.Load(); return float64(weight) },
		),
		gauge("lark_work_waiting", "Heavy work that waits.", func() float64 { _, _, waiting := a.Load(); return float64(waiting) }),
	)
	return m
}

// Metrics answers with what was counted, in the text format of Prometheus; it is for a
// listener of its own.
func (s *Server) Metrics() http.Handler {
	return promhttp.HandlerFor(s.measures.registry, promhttp.HandlerOpts{})
}

// metrics is Metrics for whoever shows the token.
func (s *Server) metrics(c *gin.Context) {
	token, given := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	if s.config.MetricsToken == "" || !given || subtle.ConstantTimeCompare([]byte(token), []byte(s.config.MetricsToken)) != 1 {
		s.stop(
			c,
			answer{
				Message: "metrics need their token",
				Advice:  "send it as a bearer token; whoever runs the server sets LARK_METRICS_TOKEN",
				status:  http.StatusUnauthorized,
			},
		)
		return
	}
	s.Metrics().ServeHTTP(c.Writer, c.Request)
}

// noted counts a request and writes a line about it. The line names the route and not the
// address, which may hold the key of a shared chart or a sign-in link.
func (s *Server) noted(c *gin.Context) {
	begun := time.Now()
	id := make([]byte, 8)
	_, _ = rand.Read(id)
	c.Header("X-Request-Id", hex.EncodeToString(id))
	c.Next()
	route := c.FullPath()
	if route == "" {
		route = "other"
	}
	took := time.Since(begun)
	bytes := max(c.Writer.Size(), 0)
	s.measures.requests.WithLabelValues(route, c.Request.Method, strconv.Itoa(c.Writer.Status())).Inc()
	s.measures.seconds.WithLabelValues(route).Observe(took.Seconds())
	s.measures.bytes.WithLabelValues(route).Add(float64(bytes))
	if s.config.Requests == nil || route == "/health" || route == "/ready" {
		return
	}
	who, _ := person(c.Request.Context())
	s.config.Requests.Info(
		"request",
		"id",
		hex.EncodeToString(id),
		"person",
		who.ID,
		"method",
		c.Request.Method,
		"route",
		route,
		"status",
		c.Writer.Status(),
		"ms",
		float64(took.Microseconds())/1000,
		"bytes",
		bytes,
	)
}

// health says that the program is alive; ready, that it can answer.
func (s *Server) health(c *gin.Context) { writeJSON(c.Writer, http.StatusOK, state{"alive"}) }

func (s *Server) ready(c *gin.Context) {
	if err := s.app.Ready(c.Request.Context()); err != nil {
		s.refuse(c.Writer, c.Request.Context(), err)
		return
	}
	writeJSON(c.Writer, http.StatusOK, state{"ready"})
}

type state struct {
	State string `json:"state"`
}
