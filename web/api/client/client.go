// Package client asks the interface for other systems. It is made from the interface's
// description, which lies beside it: go generate makes both anew.
package client

//go:generate go run ../../../cmd/omphalos describe --older --to openapi.json
//go:generate go tool oapi-codegen -config config.yaml openapi.json
