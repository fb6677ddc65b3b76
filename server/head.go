package server

import "net/http"

// headed answers HEAD wherever GET is answered: the same, without the body.
func headed(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodHead {
			next.ServeHTTP(w, r)
			return
		}
		asked := *r
		asked.Method = http.MethodGet
		next.ServeHTTP(headWriter{w}, &asked)
	})
}

// headWriter lets no body through.
type headWriter struct{ http.ResponseWriter }

func (headWriter) Write(body []byte) (int, error) { return len(body), nil }

// Unwrap leads what is asked of a connection to it.
func (w headWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }
