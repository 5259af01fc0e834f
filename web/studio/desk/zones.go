package desk

// Zones are offered for times; any name of the IANA database is taken.
var Zones = []string{
	"Africa/Johannesburg",
	"America/Chicago",
	"America/Los_Angeles",
	"America/New_York",
	"America/Sao_Paulo",
	"Asia/Kolkata",
	"Asia/Tokyo",
	"Australia/Sydney",
	"Europe/Berlin",
	"Europe/Dublin",
	"Europe/London",
	"Europe/Paris",
	"Europe/Vienna",
	"Pacific/Auckland",
	"UTC",
}
