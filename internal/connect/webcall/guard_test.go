package webcall

import (
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestPublicAddresses(t *testing.T) {
	for text, want := range map[string]bool{
		"93.184.216.34": true, "2606:2800:220:1::1": true, "198.17.255.255": true, "198.20.0.0": true, "239.255.255.255": false,
		"0.1.2.3": false, "10.0.0.1": false, "100.64.0.1": false, "127.0.0.1": false, "169.254.169.254": false, "172.31.0.1": false, "192.0.0.8": false, "192.168.1.1": false,
		"198.18.0.1": false, "198.19.255.255": false, "240.0.0.1": false, "255.255.255.255": false,
		"::1": false, "::": false, "fe80::1": false, "fe80::1%eth0": false, "fc00::1": false, "fec0::1": false, "ff02::1": false,
		"64:ff9b::7f00:1": false, "2002:7f00:1::": false, "::ffff:127.0.0.1": false, "::ffff:93.184.216.34": true,
	} {
		assert.Equal(t, want, public(netip.MustParseAddr(text)), text)
	}
	assert.Error(t, publicOnly("tcp", "localhost", nil), "no address at all")
	assert.Error(t, publicOnly("tcp", "[64:ff9b::a9fe:a9fe]:80", nil))
	assert.NoError(t, publicOnly("tcp", "93.184.216.34:443", nil))
}
