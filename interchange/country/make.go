//go:build ignore

// Makes standin.mmdb. It needs github.com/maxmind/mmdbwriter beside it, which nothing else
// does, so that the file is committed: in a module of its own, go run make.go standin.mmdb.
package main

import (
	"log"
	"net"
	"os"

	"github.com/maxmind/mmdbwriter"
	"github.com/maxmind/mmdbwriter/mmdbtype"
)

func main() {
	db, err := mmdbwriter.New(
		mmdbwriter.Options{
			DatabaseType:            "Stand-in-Country",
			IncludeReservedNetworks: true,
			RecordSize:              24,
			BuildEpoch:              1,
		},
	)
	if err != nil {
		log.Fatal(err)
	}
	for network, code := range map[string]string{"192.0.2.0/25": "IE", "192.0.2.128/25": "GB",
		"198.51.100.0/24": "FR", "203.0.113.0/24": "DE", "2001:db8::/33": "IE", "2001:db8:8000::/33": "GB"} {
		_, of, err := net.ParseCIDR(network)
		if err != nil {
			log.Fatal(err)
		}
		if err := db.Insert(of, mmdbtype.Map{"country": mmdbtype.Map{"iso_code": mmdbtype.String(code)}}); err != nil {
			log.Fatal(err)
		}
	}
	file, err := os.Create(os.Args[1])
	if err != nil {
		log.Fatal(err)
	}
	if _, err := db.WriteTo(file); err != nil {
		log.Fatal(err)
	}
	if err := file.Close(); err != nil {
		log.Fatal(err)
	}
}
