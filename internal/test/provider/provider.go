// Package provider is a small provider of OpenID Connect for tests: it lets in whoever is asked for, without a password.
package provider

import (
	"crypto"
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"math/big"
	"net/http"
	"net/url"
	"sync"
	"time"
)

// Provider is the handler of it. Claims are what it says of whoever comes next; what they hold of the token itself (iss, aud,
// exp, nonce) takes the place of the right ones, so that a test can lie.
type Provider struct {
	Address string
	mutex   sync.Mutex
	claims  map[string]any
	key     *rsa.PrivateKey
	codes   map[string]url.Values
	tokens  int
}

// New makes a provider that says some claims.
func New() (*Provider, error) {
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	return &Provider{key: key, codes: map[string]url.Values{}, claims: map[string]any{}}, err
}

// Say says what is claimed of whoever comes next.
func (p *Provider) Say(claims map[string]any) {
	p.mutex.Lock()
	defer p.mutex.Unlock()
	p.claims = claims
}

// Tokens is how many tokens it gave.
func (p *Provider) Tokens() int {
	p.mutex.Lock()
	defer p.mutex.Unlock()
	return p.tokens
}

func answer(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body)
}

var encoded = base64.RawURLEncoding.EncodeToString

func (p *Provider) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	switch r.URL.Path {
	case "/.well-known/openid-configuration":
		answer(
			w,
			200,
			map[string]any{"issuer": p.Address, "authorization_endpoint": p.Address + "/authorize", "token_endpoint": p.Address + "/token",
				"jwks_uri": p.Address + "/keys", "id_token_signing_alg_values_supported": []string{"RS256"}},
		)
	case "/keys":
		answer(w, 200, map[string]any{"keys": []any{map[string]any{"kty": "RSA", "alg": "RS256", "use": "sig", "kid": "one",
			"n": encoded(p.key.N.Bytes()), "e": encoded(big.NewInt(int64(p.key.E)).Bytes())}}})
	case "/authorize":
		p.authorize(w, r)
	case "/token":
		p.token(w, r)
	default:
		http.NotFound(w, r)
	}
}

// authorize sends the browser back at once.
func (p *Provider) authorize(w http.ResponseWriter, r *http.Request) {
	asked := r.URL.Query()
	if asked.Get("code_challenge_method") != "S256" || asked.Get("response_type") != "code" || asked.Get("state") == "" {
		http.Error(w, "no proof key", http.StatusBadRequest)
		return
	}
	code := rand.Text()
	p.mutex.Lock()
	p.codes[code] = asked
	p.mutex.Unlock()
	back, _ := url.Parse(asked.Get("redirect_uri"))
	back.RawQuery = url.Values{"code": {code}, "state": {asked.Get("state")}}.Encode()
	http.Redirect(w, r, back.String(), http.StatusFound)
}

func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	p.mutex.Lock()
	defer p.mutex.Unlock()
	asked, known := p.codes[r.FormValue("code")]
	delete(p.codes, r.FormValue("code"))
	proof := sha256.Sum256([]byte(r.FormValue("code_verifier")))
	if !known || encoded(proof[:]) != asked.Get("code_challenge") || r.FormValue("redirect_uri") != asked.Get("redirect_uri") {
		answer(w, http.StatusBadRequest, map[string]any{"error": "invalid_grant"})
		return
	}
	claims := map[string]any{"iss": p.Address, "aud": asked.Get("client_id"), "sub": "1", "nonce": asked.Get("nonce"),
		"iat": time.Now().Unix(), "exp": time.Now().Add(time.Minute).Unix()}
	for name, value := range p.claims {
		claims[name] = value
	}
	p.tokens++
	answer(w, 200, map[string]any{"access_token": "one", "token_type": "Bearer", "id_token": p.signed(claims)})
}

func (p *Provider) signed(claims map[string]any) string {
	head, _ := json.Marshal(map[string]any{"alg": "RS256", "kid": "one", "typ": "JWT"})
	body, _ := json.Marshal(claims)
	text := encoded(head) + "." + encoded(body)
	sum := sha256.Sum256([]byte(text))
	signature, _ := rsa.SignPKCS1v15(rand.Reader, p.key, crypto.SHA256, sum[:])
	return text + "." + encoded(signature)
}
