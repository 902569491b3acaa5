// Package openid asks providers of accounts who somebody is (OpenID Connect Core 1.0: authorization code
// flow, with PKCE, RFC 7636). What they answer is checked by go-oidc (Apache-2.0).
package openid

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"
)

// Client is what this house is at a provider.
type Client struct {
	Issuer, ID, Secret string
	Back               string // the address that people come back to
	Claim              string // in which the provider tells groups: a name, or a way to it such as /school/groups; "" for none
}

// Claims are what a provider says of whoever signed in.
type Claims struct {
	Issuer, Subject string
	Email           string
	Verified        bool // the provider says that the address is theirs
	Name            string
	Groups          []string
}

// Trip is one way to the provider and back. It holds what nobody else may know.
type Trip struct{ State, Nonce, Verifier string }

// patience is how long a provider may take for one answer.
const patience = 10 * time.Second

// Open finds a provider by its settings, which it tells below its address (OpenID Connect Discovery 1.0).
func Open(ctx context.Context, c Client) (*Provider, error) {
	ctx = oidc.ClientContext(ctx, client)
	found, err := oidc.NewProvider(ctx, c.Issuer)
	if err != nil {
		return nil, err
	}
	scopes := []string{oidc.ScopeOpenID, "profile", "email"}
	if c.Claim != "" && scopeOf(found, c.Claim) {
		scopes = append(scopes, c.Claim)
	}
	return &Provider{found, c, oauth2.Config{ClientID: c.ID, ClientSecret: c.Secret, Endpoint: found.Endpoint(), RedirectURL: c.Back, Scopes: scopes}}, nil
}

var client = &http.Client{Timeout: patience}

// scopeOf reports whether a provider has a scope of the name of a claim, as many have for groups.
func scopeOf(p *oidc.Provider, claim string) bool {
	var told struct {
		Scopes []string `json:"scopes_supported"`
	}
	if p.Claims(&told) != nil {
		return false
	}
	for _, s := range told.Scopes {
		if s == claim {
			return true
		}
	}
	return false
}

// Provider is a provider as it answers.
type Provider struct {
	found  *oidc.Provider
	client Client
	oauth  oauth2.Config
}

// Address is where somebody signs in.
func (a *Provider) Address(t Trip) string {
	return a.oauth.AuthCodeURL(t.State, oidc.Nonce(t.Nonce), oauth2.S256ChallengeOption(t.Verifier))
}

// Claims are what the provider says for a code: what it has signed, and what it tells of them besides,
// where it says more there.
func (a *Provider) Claims(ctx context.Context, t Trip, code string) (c Claims, err error) {
	ctx = oidc.ClientContext(ctx, client)
	token, err := a.oauth.Exchange(ctx, code, oauth2.VerifierOption(t.Verifier))
	if err != nil {
		return c, err
	}
	raw, ok := token.Extra("id_token").(string)
	if !ok {
		return c, errors.New("it sent no ID token")
	}
	signed, err := a.found.Verifier(&oidc.Config{ClientID: a.client.ID}).Verify(ctx, raw)
	if err != nil {
		return c, err
	}
	if signed.Nonce != t.Nonce {
		return c, errors.New("the ID token is for another sign-in")
	}
	all := map[string]any{}
	if err := signed.Claims(&all); err != nil {
		return c, err
	}
	if a.found.UserInfoEndpoint() != "" {
		more, err := a.found.UserInfo(ctx, oauth2.StaticTokenSource(token))
		if err != nil {
			return c, err
		}
		if more.Subject != signed.Subject { // Core 1.0, 5.3.2: else it must not be used
			return c, errors.New("it tells of somebody else than it signed")
		}
		further := map[string]any{}
		if err := more.Claims(&further); err != nil {
			return c, err
		}
		for name, value := range further {
			if _, told := all[name]; !told {
				all[name] = value
			}
		}
	}
	c = Claims{Issuer: signed.Issuer, Subject: signed.Subject, Email: text(all["email"]), Name: text(all["name"])}
	c.Verified = all["email_verified"] == true || all["email_verified"] == "true"
	if a.client.Claim != "" {
		c.Groups = list(within(all, a.client.Claim))
	}
	return c, nil
}

// within is a claim by its name or, where that begins with a slash, by its way within others, as a JSON
// Pointer (RFC 6901): some providers tell groups inside of another claim.
func within(all map[string]any, claim string) any {
	way, nested := strings.CutPrefix(claim, "/")
	if !nested {
		return all[claim]
	}
	var at any = all
	for name := range strings.SplitSeq(way, "/") {
		inside, ok := at.(map[string]any)
		if !ok {
			return nil
		}
		at = inside[strings.NewReplacer("~1", "/", "~0", "~").Replace(name)]
	}
	return at
}

func text(v any) string {
	s, _ := v.(string)
	return s
}

// list are the names in a claim: a text is a list of one.
func list(v any) (all []string) {
	switch v := v.(type) {
	case string:
		return []string{v}
	case []any:
		for _, one := range v {
			all = append(all, fmt.Sprint(one))
		}
	}
	return all
}
