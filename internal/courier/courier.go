// Package courier calls other programs over HTTPS, and never one inside the network of the server: where an address leads is
// looked at after its name was resolved, at the connection itself.
package courier

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"syscall"
	"time"
)

// patience is how long another program has to answer; mostAnswer how much of its answer is looked at.
const (
	patience   = 10 * time.Second
	mostAnswer = 300
)

// Courier sends calls.
type Courier struct {
	inside []string // hosts, as host or host:port, that may be inside, and be called by plain HTTP
	client *http.Client
}

// New makes a courier that may call the hosts that are named wherever they are, and others outside alone.
func New(inside []string) *Courier {
	c := &Courier{inside: inside}
	c.client = &http.Client{
		Timeout:       patience,
		Transport:     &http.Transport{DisableKeepAlives: true, DialContext: c.Dial},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	return c
}

// Dial connects to an address outside, or to a host that is named; where it leads is looked at once its name is resolved.
func (c *Courier) Dial(ctx context.Context, network, address string) (net.Conn, error) {
	dialer := &net.Dialer{Timeout: patience}
	if !c.named(address) {
		dialer.Control = func(_, address string, _ syscall.RawConn) error { return isOutside(address) }
	}
	return dialer.DialContext(ctx, network, address)
}

// named reports whether whoever runs the server named a host.
func (c *Courier) named(hostAndPort string) bool {
	host, _, _ := net.SplitHostPort(hostAndPort)
	return slices.Contains(c.inside, hostAndPort) || slices.Contains(c.inside, host)
}

// isOutside refuses addresses that lead into a network, to this machine, or nowhere.
func isOutside(hostAndPort string) error {
	at, err := netip.ParseAddrPort(hostAndPort)
	if err != nil {
		return err
	}
	ip := at.Addr().Unmap()
	if !ip.IsGlobalUnicast() || ip.IsPrivate() || ip.IsLoopback() ||
		slices.ContainsFunc(kept, func(p netip.Prefix) bool { return p.Contains(ip) }) {
		return errors.New("the address leads inside a network")
	}
	return nil
}

// kept are networks beside the private ones that nobody outside has: RFC 6598, 5737, 2544, 6890, 3849, 6052.
var kept = []netip.Prefix{
	netip.MustParsePrefix("100.64.0.0/10"),
	netip.MustParsePrefix("192.0.0.0/24"),
	netip.MustParsePrefix("192.0.2.0/24"),
	netip.MustParsePrefix("198.18.0.0/15"),
	netip.MustParsePrefix("198.51.100.0/24"),
	netip.MustParsePrefix("203.0.113.0/24"),
	netip.MustParsePrefix("240.0.0.0/4"),
	netip.MustParsePrefix("64:ff9b::/96"),
	netip.MustParsePrefix("2001:db8::/32"),
}

// Fits reports why calls are not sent to an address.
func (c *Courier) Fits(address string) error {
	at, err := url.Parse(address)
	if err != nil {
		return err
	}
	port := at.Port()
	if port == "" {
		port = at.Scheme
	}
	if c.named(net.JoinHostPort(at.Hostname(), port)) {
		return nil
	}
	if at.Scheme != "https" {
		return errors.New("calls are sent over https alone")
	}
	if ip, err := netip.ParseAddr(at.Hostname()); err == nil {
		return isOutside(netip.AddrPortFrom(ip, 443).String())
	}
	if !strings.Contains(at.Hostname(), ".") {
		return errors.New("the address leads inside a network")
	}
	return nil
}

// Send sends a call; any answer but one of 200 to 299 is a failure, a redirect too.
func (c *Courier) Send(ctx context.Context, address string, body []byte, headers map[string]string) error {
	if err := c.Fits(address); err != nil {
		return err
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, address, bytes.NewReader(body))
	if err != nil {
		return err
	}
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	answer, err := c.client.Do(request)
	if err != nil {
		var failed *url.Error
		if errors.As(err, &failed) {
			err = failed.Err // without the address, which can hold a secret
		}
		return err
	}
	defer func() { _ = answer.Body.Close() }()
	said, _ := io.ReadAll(io.LimitReader(answer.Body, mostAnswer))
	if answer.StatusCode/100 != 2 {
		return fmt.Errorf("%s %s", answer.Status, strings.Map(func(r rune) rune {
			if r < ' ' {
				return ' '
			}
			return r
		}, strings.ToValidUTF8(string(said), "")))
	}
	return nil
}
