package webcall

import (
	"errors"
	"net"
	"net/netip"
	"slices"
	"syscall"
)

// notPublic are the networks that a web call may not reach by a name alone: this
// machine, private and shared ones, those set apart for special use, and those
// that carry an address of such a network inside (IANA special-purpose address
// registries; RFC 6890, RFC 6052, RFC 3056, RFC 6598).
var notPublic = func() []netip.Prefix {
	var all []netip.Prefix
	for _, text := range []string{
		"0.0.0.0/8", "10.0.0.0/8", "100.64.0.0/10", "127.0.0.0/8", "169.254.0.0/16", "172.16.0.0/12", "192.0.0.0/24", "192.0.2.0/24", "192.88.99.0/24",
		"192.168.0.0/16", "198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "224.0.0.0/4", "240.0.0.0/4",
		"::/128", "::1/128", "64:ff9b::/96", "64:ff9b:1::/48", "100::/64", "2001::/23", "2001:db8::/32", "2002::/16", "fc00::/7", "fe80::/10", "fec0::/10", "ff00::/8",
	} {
		all = append(all, netip.MustParsePrefix(text))
	}
	return all
}()

// public reports whether an address is one of the open internet.
func public(ip netip.Addr) bool {
	ip = ip.Unmap().WithZone("")
	return ip.IsValid() && !slices.ContainsFunc(notPublic, func(p netip.Prefix) bool { return p.Contains(ip) })
}

// errPrivate says that a name leads to an address that may not be called.
var errPrivate = errors.New("a private address")

// publicOnly refuses every other address, whatever name led to it.
func publicOnly(_, address string, _ syscall.RawConn) error {
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return err
	}
	if ip, err := netip.ParseAddr(host); err != nil || !public(ip) {
		return errPrivate
	}
	return nil
}
