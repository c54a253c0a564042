// Package contract is generated from api/openapi.yaml, which is the contract
// between the page and the server.
package contract

//go:generate go tool oapi-codegen -config ../../api/server.yaml ../../api/openapi.yaml
