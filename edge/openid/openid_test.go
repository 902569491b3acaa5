package openid_test

import (
	"cmp"
	"crypto"
	"crypto/hmac"
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"math/big"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/edge/openid"
)

// issuer is a provider that signs whatever a test wants: OpenID Connect Core 1.0, 2 and 3.1, RFC 7517 and
// RFC 7519. How a real one answers is tested in a browser.
type issuer struct {
	*httptest.Server
	t         *testing.T
	key       *rsa.PrivateKey
	challenge string // of the sign-in that is under way
	nonce     string
	claims    func(map[string]any) // changes what the ID token says
	sign      func(head, body string) string
	info      map[string]any
	config    func(map[string]any)
	claim     string // in which this house looks for groups; "" for the usual one
}

func text64(v any) string {
	data, _ := json.Marshal(v)
	return base64.RawURLEncoding.EncodeToString(data)
}

func (i *issuer) rs256(key *rsa.PrivateKey) func(head, body string) string {
	return func(head, body string) string {
		sum := sha256.Sum256([]byte(head + "." + body))
		sig, err := rsa.SignPKCS1v15(rand.Reader, key, crypto.SHA256, sum[:])
		require.NoError(i.t, err)
		return base64.RawURLEncoding.EncodeToString(sig)
	}
}

func newIssuer(t *testing.T) *issuer {
	t.Helper()
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	require.NoError(t, err)
	i := &issuer{t: t, key: key, info: map[string]any{"sub": "s-1", "groups": []string{"teachers"}, "email": "other@school.example"}}
	answer := func(w http.ResponseWriter, v any) {
		w.Header().Set("Content-Type", "application/json")
		_ = json.NewEncoder(w).Encode(v)
	}
	mux := http.NewServeMux()
	mux.HandleFunc("/.well-known/openid-configuration", func(w http.ResponseWriter, _ *http.Request) {
		c := map[string]any{"issuer": i.URL, "authorization_endpoint": i.URL + "/in", "token_endpoint": i.URL + "/token", "jwks_uri": i.URL + "/keys", "userinfo_endpoint": i.URL + "/info",
			"id_token_signing_alg_values_supported": []string{"RS256"}, "scopes_supported": []string{"openid", "email", "groups"}}
		if i.config != nil {
			i.config(c)
		}
		answer(w, c)
	})
	mux.HandleFunc("/keys", func(w http.ResponseWriter, _ *http.Request) {
		b64 := base64.RawURLEncoding.EncodeToString
		answer(w, map[string]any{"keys": []any{map[string]any{"kty": "RSA", "use": "sig", "alg": "RS256", "kid": "one", "n": b64(key.N.Bytes()), "e": b64(big.NewInt(int64(key.E)).Bytes())}}})
	})
	mux.HandleFunc("/info", func(w http.ResponseWriter, _ *http.Request) { answer(w, i.info) })
	mux.HandleFunc("/token", func(w http.ResponseWriter, r *http.Request) {
		sum := sha256.Sum256([]byte(r.FormValue("code_verifier")))
		if base64.RawURLEncoding.EncodeToString(sum[:]) != i.challenge { // RFC 7636, 4.6
			http.Error(w, `{"error":"invalid_grant"}`, http.StatusBadRequest)
			return
		}
		says := map[string]any{"iss": i.URL, "sub": "s-1", "aud": "mivlet", "exp": time.Now().Add(time.Minute).Unix(), "iat": time.Now().Unix(), "nonce": i.nonce,
			"email": "runa.falk@school.example", "email_verified": true, "name": "Runa Falk"}
		head := map[string]any{"alg": "RS256", "kid": "one"}
		sign := i.rs256(key)
		if i.sign != nil {
			sign = i.sign
		}
		if i.claims != nil {
			i.claims(says)
		}
		if alg, ok := says["alg"]; ok {
			head["alg"] = alg
		}
		body := text64(says)
		answer(w, map[string]any{"access_token": "a", "token_type": "Bearer", "id_token": text64(head) + "." + body + "." + sign(text64(head), body)})
	})
	i.Server = httptest.NewServer(mux)
	t.Cleanup(i.Close)
	return i
}

var trip = openid.Trip{State: "state", Nonce: "nonce", Verifier: strings.Repeat("v", 50)}

func (i *issuer) claimsOf(back openid.Trip) (openid.Claims, error) {
	i.t.Helper()
	p, err := openid.Open(i.t.Context(), openid.Client{Issuer: i.URL, ID: "mivlet", Secret: "hush", Back: "https://mivlet.example/back", Claim: cmp.Or(i.claim, "groups")})
	require.NoError(i.t, err)
	u, err := url.Parse(p.Address(trip))
	require.NoError(i.t, err)
	q := u.Query()
	assert.Equal(i.t, []string{"code", "mivlet", "https://mivlet.example/back", "state", "S256"}, []string{q.Get("response_type"), q.Get("client_id"), q.Get("redirect_uri"), q.Get("state"), q.Get("code_challenge_method")})
	if i.claim == "" {
		assert.Equal(i.t, "openid profile email groups", q.Get("scope"))
	}
	i.challenge, i.nonce = q.Get("code_challenge"), q.Get("nonce")
	return p.Claims(i.t.Context(), back, "code")
}

func TestWhatAProviderSaysIsTaken(t *testing.T) {
	t.Parallel()
	i := newIssuer(t)
	c, err := i.claimsOf(trip)
	require.NoError(t, err)
	assert.Equal(t, openid.Claims{Issuer: i.URL, Subject: "s-1", Email: "runa.falk@school.example", Verified: true, Name: "Runa Falk", Groups: []string{"teachers"}}, c,
		"what it has signed comes first, what it tells besides fills in")
	for _, says := range []any{"false", false, nil, 1} {
		i.claims = func(m map[string]any) { m["email_verified"] = says }
		c, err = i.claimsOf(trip)
		require.NoError(t, err)
		assert.False(t, c.Verified, "%v", says)
	}
}

// Groups that stand inside of another claim are found by the way to them: the pointers of RFC 6901,
// section 5, with its own example of a document.
func TestGroupsInsideOfOtherClaims(t *testing.T) {
	t.Parallel()
	i := newIssuer(t)
	i.claims = func(m map[string]any) {
		m["school"] = map[string]any{"groups": []string{"teachers", "staff"}, "a/b": "one", "m~n": []any{8}, "": "nothing", "deep": map[string]any{"er": "two"}}
		m["https://school.example/groups"] = []string{"by address"}
	}
	for claim, want := range map[string][]string{
		"/school/groups": {"teachers", "staff"}, "/school/a~1b": {"one"}, "/school/m~0n": {"8"}, "/school/": {"nothing"}, "/school/deep/er": {"two"},
		"/school/groups/0": nil, "/school/none": nil, "/none/groups": nil, "/school": nil, "/": nil, "https://school.example/groups": {"by address"},
	} {
		i.claim = claim
		c, err := i.claimsOf(trip)
		require.NoError(t, err)
		assert.Equal(t, want, c.Groups, claim)
	}
}

// Whatever is not signed by this provider, for this house and for this sign-in, is refused (OpenID Connect
// Core 1.0, 3.1.3.7).
func TestWhatIsRefused(t *testing.T) {
	t.Parallel()
	other, err := rsa.GenerateKey(rand.Reader, 2048)
	require.NoError(t, err)
	set := func(name string, v any) func(*issuer) {
		return func(i *issuer) { i.claims = func(m map[string]any) { m[name] = v } }
	}
	for name, attack := range map[string]func(*issuer){
		"for another house":       set("aud", "another"),
		"by another provider":     set("iss", "https://elsewhere.example"),
		"of another sign-in":      set("nonce", "replayed"),
		"of no sign-in":           set("nonce", ""),
		"ended long ago":          set("exp", time.Now().Add(-time.Hour).Unix()),
		"signed by somebody else": func(i *issuer) { i.sign = i.rs256(other) },
		"not signed":              func(i *issuer) { set("alg", "none")(i); i.sign = func(string, string) string { return "" } },
		"signed with what we share": func(i *issuer) {
			set("alg", "HS256")(i)
			i.sign = func(head, body string) string {
				h := hmac.New(sha256.New, []byte("hush"))
				h.Write([]byte(head + "." + body))
				return base64.RawURLEncoding.EncodeToString(h.Sum(nil))
			}
		},
		"of somebody else besides": func(i *issuer) { i.info["sub"] = "s-2" },
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			i := newIssuer(t)
			attack(i)
			c, err := i.claimsOf(trip)
			require.Error(t, err)
			assert.Empty(t, c)
		})
	}
	t.Run("a code that somebody else got", func(t *testing.T) {
		t.Parallel()
		_, err := newIssuer(t).claimsOf(openid.Trip{State: "state", Nonce: "nonce", Verifier: strings.Repeat("w", 50)})
		assert.Error(t, err)
	})
	t.Run("settings of another issuer", func(t *testing.T) {
		t.Parallel()
		i := newIssuer(t)
		i.config = func(m map[string]any) { m["issuer"] = "https://elsewhere.example" }
		_, err := openid.Open(t.Context(), openid.Client{Issuer: i.URL})
		assert.Error(t, err)
	})
}
