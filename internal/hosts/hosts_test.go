package hosts_test

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/internal/hosts"
)

func TestOnlyNamesThatAreMeantAreAnswered(t *testing.T) {
	h := hosts.Check([]string{"Club.example", "10.0.0.5"}, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusNoContent) }))
	for host, status := range map[string]int{
		"localhost": 204, "LOCALHOST:8417": 204, "a.localhost": 204, "127.0.0.1:8417": 204, "127.8.9.1": 204, "[::1]:8417": 204, "::1": 204,
		"club.example": 204, "CLUB.example:80": 204, "club.example.": 204, "10.0.0.5:8417": 204,
		"evil.example": 421, "localhost.evil.example": 421, "club.example.evil.example": 421, "10.0.0.6": 421, "": 421, "127.0.0.1.evil.example": 421, "0.0.0.0": 421,
	} {
		r := httptest.NewRequest(http.MethodGet, "http://x/", nil)
		r.Host = host
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		assert.Equal(t, status, w.Code, host)
	}
}
