package standin

import (
	_ "embed"
	"net/http"
)

// priceList is what the simulated suppliers ask; docs/formats.md says how it is written.
//
//go:embed prices.json
var priceList []byte

// Supplier answers as a server of made-up suppliers: their price lists at /prices.json.
func Supplier() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /prices.json", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/json")
		_, _ = w.Write(priceList)
	})
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) {
		_, _ = w.Write([]byte("Simulated suppliers: their price lists are at /prices.json\n"))
	})
	return mux
}
