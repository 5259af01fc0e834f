package finding

// Codes are the codes of findings that are no quiz.Problem, with the level and what
// each is about.
var Codes = map[string]struct {
	Level Level
	About string
}{
	"unreachable-outcome":  {Warning, "no respondent can get the outcome"},
	"unreachable-landing":  {Warning, "no respondent can get the landing"},
	"unreachable-question": {Warning, "no respondent comes to the question"},
	"unreachable-answer":   {Warning, "no value that can be given is in the bracket"},
	"never-holds":          {Warning, "a condition never holds"},
	"always-holds":         {Warning, "a condition always holds"},
	"band-out-of-reach":    {Warning, "no respondent has a score of the band"},
	"shadowed":             {Warning, "a rule never decides because of those before it"},
	"not-covered":          {Warning, "a decision table leaves combinations out"},
	"changes-nothing":      {Warning, "a question changes nothing"},
	"unweighted":           {Warning, "some answers of a question have weights and some have none"},
	"nearly-everybody":     {Warning, "an outcome takes nearly all respondents"},
	"nearly-nobody":        {Warning, "an outcome takes nearly no respondents"},
	"ties":                 {Warning, "many respondents have no single leader"},
	"fill-in-missing":      {Warning, "an answer that is filled in may be missing"},
	"contact-unasked":      {Warning, "contact is asked for after parting ways"},
	"signpost-missing":     {Warning, "a signpost leads nowhere"},
	"product-missing":      {Warning, "a product is not in the catalogue"},
	"places-missing":       {Warning, "a question offers places of an empty table"},
	"days-over":            {Warning, "a date can't be given any more: today bounds it otherwise than its days do"},
	"calendar-missing":     {Warning, "a question offers times of a calendar that is not there, or has no hours"},
	"rehearsal-broken":     {Warning, "a kept rehearsal does not get what it must"},
	"country-untold":       {Warning, "the visitor's country is asked for, and the server can't tell it"},
	"score-unfed":          {Warning, "a score decides to which nothing adds"},
	"outcome-wordless":     {Warning, "respondents with the outcome read nothing"},
	"sample-address":       {Warning, "an address is still that of a sample"},
	"person-unknown":       {Warning, "persons are to be told apart, and nothing that is asked tells them"},
	"asked-not-kept":       {Warning, "an anonymous quiz asks who somebody is, and does not keep it"},
	"contrast":             {Warning, "colours are too near to each other"},
	"many-questions":       {Hint, "respondents are asked many questions"},
	"picture-elsewhere":    {Warning, "a picture is on another site, from where it is not shown"},
	"picture-undescribed":  {Hint, "a picture has no description"},
	"long-list":            {Hint, "a long list is easier as a drop-down"},
	"stale-expectation":    {Hint, "an expectation is of an answer that is not there"},
	"odds-untold":          {Hint, "the odds could not be worked out in time"},
	"expectation-misfit":   {Warning, "expectations of several picks can't be had under the limits"},
	"tie-never-settled":    {Hint, "a tie is never settled, since a lead is asked for"},
	"range-end":            {Hint, "a large answer may take a score beyond the range of numbers"},
	"own-amounts":          {Hint, "a row's own amount replaces a column's for all of its columns"},
}
