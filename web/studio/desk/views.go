package desk

// Views are the sentences that are kept under a name.
type Views struct {
	List []View
	Keep string // where the sentence is kept under a name, "" where it says nothing
	Back string // its query
}

// A View is a sentence that is kept.
type View struct {
	Name, Address string
	Chosen        bool   // it is the one on the page
	Forget        string // where it is forgotten
}

// Chosen is the name of the view on the page, "" for none.
func (v Views) Chosen() string {
	for _, one := range v.List {
		if one.Chosen {
			return one.Name
		}
	}
	return ""
}

// A Chip is a part of a sentence, with the address that leaves it out.
type Chip struct{ Words, Drop string }
