// Package country tells the country of a visitor's address, from a database in the MaxMind
// DB format that the operator supplies.
//
// The tiny database that ships with the package knows nothing but the address ranges that
// are set aside for documentation (RFC 5737, RFC 3849), so that it can be tried.
package country

import (
	_ "embed"
	"fmt"
	"net/netip"

	"github.com/oschwald/maxminddb-golang/v2"
)

//go:embed standin.mmdb
var standIn []byte

// A DB is an open database. It serves any number of goroutines.
type DB struct{ reader *maxminddb.Reader }

// Open opens a database file, such as one of cities or of countries.
func Open(file string) (*DB, error) {
	r, err := maxminddb.Open(file)
	if err != nil {
		return nil, fmt.Errorf("opening the countries in %s: %w", file, err)
	}
	return &DB{r}, nil
}

// StandIn opens the tiny database that ships with the package.
func StandIn() (*DB, error) {
	r, err := maxminddb.OpenBytes(standIn)
	if err != nil {
		return nil, fmt.Errorf("opening the countries that ship: %w", err)
	}
	return &DB{r}, nil
}

// Close closes the database.
func (d *DB) Close() error { return d.reader.Close() }

// Of returns the country of an address (ISO 3166-1 alpha-2), "" where it is not known.
func (d *DB) Of(address netip.Addr) string {
	if !address.IsValid() {
		return ""
	}
	var code string
	if err := d.reader.Lookup(address).DecodePath(&code, "country", "iso_code"); err != nil {
		return ""
	}
	return code
}
