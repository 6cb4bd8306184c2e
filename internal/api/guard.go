package api

import (
	"net"
	"net/http"
	"net/netip"
	"strings"

	"github.com/labstack/echo/v5"
)

// policy keeps the page from loading anything from elsewhere, and from being
// framed, based or sent anywhere else.
const policy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; " +
	"worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

// guard keeps other sites from speaking to a server on this machine through
// the caster's browser: neither under a name of their own that leads here, nor
// by a link to something that costs work.
func guard(next echo.HandlerFunc) echo.HandlerFunc {
	protection := http.NewCrossOriginProtection()
	return func(c *echo.Context) error {
		r, h := c.Request(), c.Response().Header()
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		ofAPI := strings.HasPrefix(r.URL.Path, "/api/")
		if ofAPI {
			h.Set("Cache-Control", "no-store")
		}
		if !onThisMachine(r.Host) {
			return problem(http.StatusMisdirectedRequest, "Bathyform is not to be found under that name",
				"It answers on this machine only: open the address that it printed when it started.")
		}
		from := r.Header.Get("Sec-Fetch-Site")
		if err := protection.Check(r); err != nil || ofAPI && (from == "cross-site" || from == "same-site") {
			return problem(http.StatusForbidden, "Another site may not do this", "Open Bathyform itself and try there.")
		}
		return next(c)
	}
}

// onThisMachine tells a Host header that names this machine to itself.
func onThisMachine(host string) bool {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	if strings.EqualFold(host, "localhost") {
		return true
	}
	ip, err := netip.ParseAddr(strings.Trim(host, "[]"))
	return err == nil && ip.IsLoopback()
}
