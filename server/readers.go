package server

import (
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/time/rate"

	"copperlark/internal/admission"
	"copperlark/internal/cache"
)

// paces bounds what one address asks of what nobody signs in for.
type paces struct {
	perSecond float64
	mutex     sync.Mutex
	addresses *cache.Cache // *rate.Limiter by address
}

// The most addresses that are remembered, and what rows as a file cost beside one request.
const (
	mostAddresses  = 10_000
	wholeTableCost = 50
)

func newPaces(perSecond float64) *paces {
	return &paces{perSecond: perSecond, addresses: cache.Of(mostAddresses)}
}

// allow reports whether an address may ask for something of a cost now.
func (r *paces) allow(address string, cost int) bool {
	r.mutex.Lock()
	defer r.mutex.Unlock()
	held, is := r.addresses.Get(address)
	if !is {
		held = rate.NewLimiter(rate.Limit(r.perSecond), int(2*r.perSecond)+wholeTableCost)
		r.addresses.Put(address, held, 0)
	}
	return held.(*rate.Limiter).AllowN(time.Now(), cost)
}

// asReader is a route that anybody with the address of a page may ask, at a rate.
func (s *Server) asReader(cost int, handle gin.HandlerFunc) gin.HandlerFunc {
	return func(c *gin.Context) {
		if !s.visitors.allow(c.ClientIP(), cost) {
			s.stop(c, &admission.Busy{Why: "too many requests come from your address", After: 5 * time.Second})
			return
		}
		handle(c)
	}
}
