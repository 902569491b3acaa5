// Package e2e drives the real interface of the real program in a real browser.
package e2e
