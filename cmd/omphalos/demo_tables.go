package main

import (
	"context"
	_ "embed"

	"omphalos/store"
)

// fillTables puts the demo's products into the catalogue, and its signposts up.
func fillTables(ctx context.Context, s *store.Store, standIns string) error {
	err := s.Definitions.PutProducts(ctx, []store.Product{
		{
			Key:         "deep_box",
			Name:        "Deep-box hive",
			Text:        "Two deep boxes of larch, a floor with a gate for wasps, a tin roof.",
			Picture:     "/assets/drawing-hive.svg",
			Description: "A hive",
			Price:       "289",
			SalePrice:   "249",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/deep-box",
			InStock:     true,
			Words: inGerman("Stock mit tiefen Zargen",
				"Zwei tiefe Zargen aus Lärche, ein Boden mit Wespengitter, ein Blechdach.", "Ein Bienenstock"),
		},
		{
			Key:         "half_box",
			Name:        "Half-box hive",
			Text:        "Four half boxes of pine. None weighs more than twelve kilograms, full.",
			Picture:     "/assets/drawing-boxes.svg",
			Description: "A hive of four half boxes",
			Price:       "264",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/half-box",
			InStock:     true,
			Words: inGerman("Stock mit halben Zargen",
				"Vier halbe Zargen aus Kiefer. Keine wiegt voll mehr als zwölf Kilogramm.",
				"Ein Bienenstock aus vier halben Zargen"),
		},
		{
			Key:         "long_hive",
			Name:        "Long hive on legs",
			Text:        "Twenty combs side by side, at the height of a table.",
			Picture:     "/assets/drawing-onlegs.svg",
			Description: "A long hive on legs",
			Price:       "342",
			Currency:    "EUR",
			Tags:        "hive",
			Address:     "https://quillbrook.example/long-hive",
			InStock:     true,
			Words: inGerman("Langstock auf Beinen",
				"Zwanzig Waben nebeneinander, in der Höhe eines Tisches.", "Ein Langstock auf Beinen"),
		},
		{
			Key:         "season_set",
			Name:        "First season’s set",
			Text:        "Suit, smoker, brush and a hive tool that does not rust.",
			Picture:     "/assets/drawing-tools.svg",
			Description: "A smoker and a hive tool",
			Price:       "118.50",
			Currency:    "EUR",
			Tags:        "first season, tools",
			Address:     "https://quillbrook.example/season-set",
			InStock:     true,
			Words: inGerman("Alles für die erste Saison",
				"Anzug, Smoker, Besen und ein Stockmeißel, der nicht rostet.", "Ein Smoker und ein Stockmeißel"),
		},
		{
			Key:      "swarm",
			Name:     "A gentle swarm, in May",
			Text:     "From our own queens; you come and fetch it.",
			Price:    "140",
			Currency: "EUR",
			Tags:     "first season",
			Address:  "https://quillbrook.example/swarm",
			Words: inGerman("Ein sanfter Schwarm, im Mai",
				"Von unseren eigenen Königinnen; Sie holen ihn ab.", ""),
		},
	})
	if err != nil {
		return err
	}
	err = s.Definitions.PutPlaces(ctx, []store.Place{
		{
			Table:     "yards",
			Key:       "north",
			Name:      "North yard",
			Address:   "Behind the mill, Quillbrook",
			Latitude:  54.1,
			Longitude: -8.4,
		},
		{
			Table:     "yards",
			Key:       "river",
			Name:      "River yard",
			Address:   "By the ferry, Lower Quillbrook",
			Latitude:  52.7,
			Longitude: -8.6,
		},
		{
			Table:     "yards",
			Key:       "hill",
			Name:      "Hill yard",
			Address:   "At the end of Heather Lane, Upfield",
			Latitude:  51.9,
			Longitude: -7.1,
		},
	})
	if err != nil {
		return err
	}
	visits := store.NewCalendar("visits", "Europe/Dublin")
	visits.Minutes, visits.Buffer, visits.Lead = 45, 15, 24
	visits.Hours = [7]string{"", "9–12", "9–12, 13–17", "", "9–12, 13–17", "9–12", ""}
	visits.Off = "2026-12-24 to 2027-01-03"
	if err := s.Definitions.PutCalendar(ctx, visits); err != nil {
		return err
	}
	return s.Definitions.PutSignposts(ctx, []store.Signpost{
		{Table: "visits", Row: "IE", Address: "http://" + standIns + "/standin/booking?yard=ie&passage={passage}"},
		{Table: "visits", Row: "GB", Address: "http://" + standIns + "/standin/booking?yard=gb&passage={passage}"},
		{Table: "visits", Row: "shelf", Address: "https://quillbrook.example/new"},
	}, 1)
}

// inGerman is what a product says in German; it leads where it leads.
func inGerman(name, text, picture string) map[string]store.ProductWords {
	return map[string]store.ProductWords{"de": {Name: name, Text: text, Description: picture}}
}
