package exchange

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/standin"
)

func TestThePriceListOfTheStandIn(t *testing.T) {
	s := httptest.NewServer(standin.Supplier())
	defer s.Close()
	lists, err := FetchPrices(t.Context(), strings.TrimPrefix(s.URL, "http://"))
	require.NoError(t, err)
	assert.Len(t, lists, 10)
	for _, l := range lists {
		assert.Empty(t, l.Bad, l.Seller)
		assert.NotEmpty(t, l.Lines)
	}
}

// Parts are named in small letters, in CSV as in JSON.
func TestAPriceListOfParts(t *testing.T) {
	for _, text := range []string{
		"seller;name;kind;part;pack;price\nKiln;Rust;building part; Flat  2 × 4 ;10;1,5\n",
		`{"format": "lampfern-prices", "sellers": [{"name": "Kiln", "lines": [{"name": "Rust", "kind": "building part", "part": "FLAT 2 × 4", "pack": 10, "price": 1.5}]}]}`,
	} {
		lists, err := ReadPrices(t.Context(), []byte(text))
		require.NoError(t, err)
		require.Len(t, lists[0].Lines, 1)
		l := lists[0].Lines[0]
		assert.Equal(t, "flat 2 × 4", l.Part)
		assert.Equal(t, "pieces", l.Unit)
		assert.InDelta(t, .15, l.Price/l.Pack, 1e-12)
	}
	lists, err := ReadPrices(t.Context(), []byte("seller,name,kind,part,price\nKiln,Rust,building part,"+strings.Repeat("x", 200)+",2\n"))
	require.NoError(t, err)
	assert.Len(t, lists[0].Bad, 1, "a name too long")
}

func TestAPriceListThatLies(t *testing.T) {
	line := func(more string) string {
		return `{"format": "lampfern-prices", "sellers": [{"name": "Gorse", "lines": [{"name": "Sound", "kind": "fabric", "pack": 1, "price": 2}, {` + more + `}]}]}`
	}
	for more, why := range map[string]string{
		`"name": "Low", "kind": "fabric", "pack": 1, "price": -2`:                            "above 0",
		`"name": "High", "kind": "fabric", "pack": 1, "price": 1e9`:                          "at most a million",
		`"name": "Fur", "kind": "fur", "pack": 1, "price": 2`:                                `kind "fur" is not known`,
		`"name": "Ells", "kind": "fabric", "unit": "g", "pack": 1, "price": 2`:               `unit "g" is not used`,
		`"name": "None", "kind": "fabric", "price": 2`:                                       "a pack must hold",
		`"name": "", "kind": "fabric", "pack": 1, "price": 2`:                                "needs a name",
		`"name": "Owing", "kind": "fabric", "pack": 1, "price": 2, "stock": -1`:              "below 0",
		`"name": "` + strings.Repeat("x", 70) + `", "kind": "fabric", "pack": 1, "price": 2`: "needs a name of at most",
	} {
		lists, err := ReadPrices(t.Context(), []byte(line(more)))
		require.NoError(t, err)
		require.Len(t, lists[0].Bad, 1, more)
		assert.Contains(t, lists[0].Bad[0].Reason, why)
		assert.Len(t, lists[0].Lines, 1, "the sound line is kept")
	}
	for file, why := range map[string]string{
		`{"format": "other"}`:                                                                     "not a price list",
		`{"format": "lampfern-prices", "sellers": []}`:                                            "holds no lines",
		`{"format": "lampfern-prices", "sellers": [{"name": " ", "lines": [{}]}]}`:                "needs a name",
		`{"format": "lampfern-prices", "sellers": [{"name": "A", "postage": -1, "lines": [{}]}]}`: "is not possible",
		"":                            "is empty",
		"name,kind\n":                 `no column "seller"`,
		"seller,name,kind,price\n\"x": "cannot be read",
		"\xff\xfe":                    "not plain text",
		"seller,name,kind,price\n" + strings.Repeat("A,x,fabric,2\n", 20001): "more than 20000 lines",
		strings.Repeat(" ", MaxPriceBytes+1):                                 "larger than 5 MB",
	} {
		_, err := ReadPrices(t.Context(), []byte(file))
		require.Error(t, err, file[:min(40, len(file))])
		assert.Contains(t, err.Error(), why)
	}
	lists,
		err := ReadPrices(t.Context(), []byte("seller;year;name;kind;unit;pack;price;stock;discontinued\nMill;2026;Barn;yarn;g;50;4,20;3;\nMill;2026;Owl;yarn;g;50;dear;;yes\n"))
	require.NoError(t, err)
	assert.Equal(t, 2026, lists[0].Year)
	assert.InDelta(t, 4.2, lists[0].Lines[0].Price, 1e-12)
	assert.Equal(t, 3.0, *lists[0].Lines[0].Stock)
	assert.Len(t, lists[0].Bad, 1)
}

func TestAServerOfPricesThatIsDeadSlowOrHuge(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	dead := l.Addr().String()
	l.Close()
	_, err = FetchPrices(t.Context(), dead)
	assert.ErrorContains(t, err, "did not answer")
	_, err = FetchPrices(t.Context(), "::not an address::")
	assert.Error(t, err)
	handle := func(f http.HandlerFunc) string {
		s := httptest.NewServer(f)
		t.Cleanup(s.Close)
		return s.URL
	}
	_, err = FetchPrices(t.Context(), handle(func(w http.ResponseWriter, _ *http.Request) {
		http.Error(w, "no",
			http.StatusServiceUnavailable)
	}))
	assert.ErrorContains(t, err, "answered 503")
	_, err = FetchPrices(t.Context(), handle(func(w http.ResponseWriter, _ *http.Request) {
		for range 50 {
			fmt.Fprint(w, strings.Repeat("x", 1<<20))
		}
	}))
	assert.ErrorContains(t, err, "larger than 5 MB")
	soon, stop := context.WithTimeout(t.Context(), 200*time.Millisecond)
	defer stop()
	_, err = FetchPrices(soon, handle(func(_ http.ResponseWriter, r *http.Request) { <-r.Context().Done() }))
	assert.ErrorContains(t, err, "did not answer")
}
