package main

import (
	"context"

	"mivlet/desk/provider"
	"mivlet/edge/openid"
)

// openProvider finds a provider of accounts.
func openProvider(ctx context.Context, c provider.Client) (provider.Provider, error) {
	p, err := openid.Open(ctx, openid.Client(c))
	return fromProvider{p}, err
}

// fromProvider is a provider as the house sees it.
type fromProvider struct{ *openid.Provider }

// Address is where somebody signs in.
func (a fromProvider) Address(t provider.Trip) string { return a.Provider.Address(openid.Trip(t)) }

// Claims are what it says for a code.
func (a fromProvider) Claims(ctx context.Context, t provider.Trip, code string) (provider.Claims, error) {
	c, err := a.Provider.Claims(ctx, openid.Trip(t), code)
	return provider.Claims(c), err
}
