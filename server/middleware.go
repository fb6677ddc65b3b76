package server

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

const contentPolicy = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; style-src 'self'; " +
	"img-src 'self' blob: data:; font-src 'self'; connect-src 'self'; frame-src 'self'; " +
	"base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

func (s *Server) securityHeaders(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", contentPolicy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
	if s.config.TLS {
		h.Set("Strict-Transport-Security", "max-age=31536000; includeSubDomains")
	}
	if strings.HasPrefix(c.Request.URL.Path, "/assets/") {
		h.Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		h.Set("Cache-Control", "no-store")
	}
	c.Next()
}

// recovered keeps a panic inside its request.
func (s *Server) recovered(c *gin.Context) {
	defer func() {
		if fault := recover(); fault != nil {
			if fault == http.ErrAbortHandler {
				panic(fault)
			}
			s.log.Error("a request failed by panic", "route", c.FullPath(), "fault", fault, "stack", stack())
			if !c.Writer.Written() {
				c.Writer.Header().Set("Content-Type", problemType)
				writeJSON(c.Writer, http.StatusInternalServerError, answer{Message: "something went wrong on our side",
					Advice: "try again; nothing that was kept is lost", status: http.StatusInternalServerError}.problem())
			}
			c.Abort()
		}
	}()
	c.Next()
}

// rightHost refuses requests for another host: a page elsewhere that has its name point
// here does not get to speak with us.
func (s *Server) rightHost(c *gin.Context) {
	if len(s.config.Hosts) == 0 || c.FullPath() == "/health" || c.FullPath() == "/ready" {
		return
	}
	host := c.Request.Host
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	host = strings.Trim(host, "[]")
	if !slices.ContainsFunc(s.config.Hosts, func(known string) bool { return strings.EqualFold(known, host) }) {
		s.stop(
			c,
			answer{
				Message: "this server is not called that",
				Advice:  "use the address that you were given; whoever runs it names its hosts in LARK_HOSTS",
				status:  http.StatusMisdirectedRequest,
			},
		)
	}
}

// stop ends a request with an error: in words for people where a page was asked for.
func (s *Server) stop(c *gin.Context, err error) {
	c.Abort()
	if path := c.Request.URL.Path; strings.HasPrefix(path, "/api/") || !strings.Contains(c.GetHeader("Accept"), "text/html") {
		s.refuse(c.Writer, c.Request.Context(), err)
		return
	}
	s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
}

// readable refuses addresses with zero bytes or broken UTF-8: no name holds them.
func (s *Server) readable(c *gin.Context) {
	u := c.Request.URL
	query := u.Query()
	good := isText(u.Path)
	for name, values := range query {
		good = good && isText(name) && !slices.ContainsFunc(values, func(v string) bool { return !isText(v) })
	}
	if !good {
		s.stop(c, errBadText)
	}
}

func isText(text string) bool { return utf8.ValidString(text) && strings.IndexByte(text, 0) < 0 }

// spaceHeader says which of their spaces somebody asks about; addresses that a browser opens by itself say it as the
// parameter space. Without either it is the one where they were last.
const spaceHeader = "Lark-Space"

// spaceOf reads which space a request is about; 0: the last, −1: none that there is.
func spaceOf(r *http.Request) int64 {
	said := r.Header.Get(spaceHeader)
	if said == "" {
		said = r.URL.Query().Get("space")
	}
	if said == "" {
		return 0
	}
	id, err := strconv.ParseInt(said, 10, 64)
	if err != nil || id <= 0 {
		return -1
	}
	return id
}

// whoIsIt finds out who sends a request; routes decide whether they may. A database that
// does not answer is not somebody who is signed out.
func (s *Server) whoIsIt(c *gin.Context) {
	ctx := c.Request.Context()
	caller := app.Caller{Address: c.ClientIP(), Device: device(c.GetHeader("User-Agent")), Origin: s.origin(c.Request)}
	ctx = context.WithValue(ctx, originKey, caller.Origin)
	if s.gates[c.Request.Method+" "+c.FullPath()].key != "" {
		c.Request = c.Request.WithContext(app.WithCaller(s.withKey(ctx, c, &caller), caller))
		return
	}
	if token, err := c.Cookie(s.cookieName()); err == nil && token != "" && !strings.HasPrefix(c.FullPath(), "/assets/") {
		switch who, err := s.app.Who(ctx, token, spaceOf(c.Request)); {
		case err == nil:
			ctx = context.WithValue(context.WithValue(ctx, personKey, who), tokenKey, token)
			caller.Person = who
		case !errors.Is(err, app.ErrNotSignedIn):
			ctx = context.WithValue(ctx, whoErrorKey, err)
		}
	}
	c.Request = c.Request.WithContext(app.WithCaller(ctx, caller))
}

// withKey finds out whose key a script sends.
func (s *Server) withKey(ctx context.Context, c *gin.Context, caller *app.Caller) context.Context {
	token, _ := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	key, who, err := s.app.KeyHolder(ctx, strings.TrimSpace(token))
	if err != nil {
		return context.WithValue(ctx, whoErrorKey, err)
	}
	caller.Person = who
	return context.WithValue(context.WithValue(ctx, personKey, who), keyKey, key)
}

// origin is the address of the program as the browser has it; the host was looked at by rightHost.
func (s *Server) origin(r *http.Request) string {
	if s.config.TLS {
		return "https://" + r.Host
	}
	return "http://" + r.Host
}

// Browsers and systems by what they say of themselves; the first that is found counts, so those that call themselves by
// others' names too stand first.
var (
	browsers = [][2]string{{"Edg/", "Edge"}, {"OPR/", "Opera"}, {"Firefox/", "Firefox"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"},
		{"curl/", "curl"}}
	systems = [][2]string{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Macintosh", "macOS"},
		{"CrOS", "ChromeOS"}, {"Linux", "Linux"}}
)

// device says in words what a browser calls itself: Firefox on Linux.
func device(agent string) string {
	said := func(list [][2]string) string {
		for _, one := range list {
			if strings.Contains(agent, one[0]) {
				return one[1]
			}
		}
		return ""
	}
	browser, system := said(browsers), said(systems)
	switch {
	case browser == "" && system == "":
		return "an unknown device"
	case system == "":
		return browser
	case browser == "":
		return "an unknown browser on " + system
	}
	return browser + " on " + system
}

// mostJSON is the largest JSON body.
const mostJSON = 1 << 20

// wholeJSON refuses bodies of JSON that hold zero bytes or broken UTF-8, which decoding
// would change in silence.
func (s *Server) wholeJSON(c *gin.Context) {
	if !strings.HasPrefix(c.ContentType(), "application/json") || c.Request.Body == nil {
		return
	}
	body, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, mostJSON))
	if err == nil && (!utf8.Valid(body) || holdsZero(body)) {
		err = errBadText
	}
	if err != nil {
		s.stop(c, err)
		return
	}
	c.Request.Body = io.NopCloser(bytes.NewReader(body))
}

// holdsZero reports whether JSON holds a zero byte, as itself or written \u0000.
func holdsZero(body []byte) bool {
	if bytes.IndexByte(body, 0) >= 0 {
		return true
	}
	for at := 0; ; {
		found := bytes.Index(body[at:], []byte(`\u0000`))
		if found < 0 {
			return false
		}
		at += found
		slashes := 0
		for at-slashes > 0 && body[at-slashes-1] == '\\' {
			slashes++
		}
		if slashes%2 == 0 { // the backslash is not itself escaped
			return true
		}
		at++
	}
}
