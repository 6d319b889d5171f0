package demo

import "dorvet/core/money"

type client struct {
	name, address string
	currency      money.Currency
	terms         string
	taxCode       string // nothing for the firm's
	combined      bool
	engagements   []engagement
}

type engagement struct {
	name, reference string
	lead            string
	services        []int64
	works           []string
}

var clients = []client{
	{"Ennisfarne Harbour Commission", "Pier Office, Harbour Road\nEnnisfarne", "EUR", "", "", true, []engagement{
		{"Breakwater scour survey", "PO 4471", "IO", []int64{1, 2, 3},
			[]string{"Scour hole multibeam, leg %d", "Tide gauge reduction, levels to datum", "Side-scan mosaic, line %d",
				"Method statement, divers", "Site induction and safety brief", "Scour depth chart, sheet %d"}},
		{"Dredge licence advice", "", "IO", []int64{4, 3},
			[]string{"Licence conditions, call with the regulator", "Disposal site options, note %d",
				"Draft of the application, part %d"}}}},
	{"Port of Calderwick", "Dock Gate 2\nCalderwick", "EUR", "eom+15d", "", false, []engagement{
		{"Berth 4 monitoring", "CAL-26-118", "IO", []int64{1, 2},
			[]string{"Bathymetry of berth 4, run %d", "Difference chart against the last survey", "Tilt sensors, download and check"}},
		{"Sediment claim support", "", "CR", []int64{4, 3},
			[]string{"Review of the sampling record, batch %d", "Statement for the claim, draft %d", "Meeting with counsel"}}}},
	{"Isle of Varray Council", "Council House\nVarray", "EUR", "", "R", true, []engagement{
		{"Ferry slip impact study", "IVC/77/26", "CR", []int64{1, 2, 3},
			[]string{"Benthic grabs, station %d", "Otter and seal watch, day %d", "Impact tables, chapter %d"}},
		{"Shoreline management plan", "IVC/81/26", "CR", []int64{3, 4},
			[]string{"Policy units, workshop %d", "Erosion lines, frontage %d", "Reply to the council's comments"}}}},
	{"Halvick Ferries", "Terminal Building\nHalvick", "EUR", "", "", true, []engagement{
		{"Wake wash review", "", "IO", []int64{2, 4}, []string{"Wash measurements, passage %d", "Speed and wash curves"}}}},
	{"Saltmere Wetland Trust", "The Old Sluice\nSaltmere", "EUR", "14d", "R", true, []engagement{
		{"Managed retreat options", "", "CR", []int64{3, 4},
			[]string{"Breach option %d, water levels", "Habitat gain and loss, option %d", "Trustees' briefing"}}}},
	{"Brannoch Oyster Growers", "Slip Lane\nBrannoch", "EUR", "", "", true, []engagement{
		{"Oyster bed siting", "", "CR", []int64{1, 3}, []string{"Current meter, site %d", "Siltation note, site %d"}}}},
	{"Orrin Seaweed Farm", "Orrin Pier", "EUR", "receipt", "", true, []engagement{
		{"Mooring field study", "", "IO", []int64{1, 2}, []string{"Mooring loads, grid %d", "Anchor holding test %d"}}}},
	{"Quillan Bay Desalination", "Intake Road 1\nQuillan Bay", "USD", "45d", "AE", true, []engagement{
		{"Intake siting study", "QBD-0031", "IO", []int64{2, 3, 4},
			[]string{"Plume model, run %d", "Intake depth options, note %d", "Call with the plant team"}}}},
	{"Skerrow Coastal", "14 Weir Quay\nEnnisfarne", "EUR", "", "", true, []engagement{
		{"Own time", "", "MO", []int64{6}, []string{"Tender, section %d", "Training", "Kit and stores", "Staff meeting"}}}},
}

// later came when the firm was at work with Dorvet already: their details are
// few, and their work is done by the newer people.
var later = []laterClient{
	{name: "Greywater Array", currency: "NOK", country: "NO", industry: "Energy",
		work: []laterWork{{"Cable landfall study", "capped", "240000", "EF"}, {"Scour watch", "recurring", "48000", "EF"}}},
	{name: "Namiuchi Wave Bureau", currency: "JPY", country: "JP", industry: "Research",
		work: []laterWork{{"Wave buoy comparison", "hourly", "", "RT"}}},
	{name: "Tarrow Lifeboat Station", industry: "Charity", work: []laterWork{{"Slipway levels", "fixed", "6200", "RT"}}},
	{name: "Culvary Marina", industry: "Leisure", work: []laterWork{{"Siltation survey", "hourly", "", "EF"},
		{"Yearly soundings", "recurring", "1850", "EF"}}},
	{name: "Inch Moy Lighthouse Trust", industry: "Charity", terms: "60d", work: []laterWork{{"Rock armour check", "fixed", "4800", "EF"}}},
	{name: "Stennet Sound Pilots", industry: "Shipping",
		work: []laterWork{{"Under-keel clearance", "hourly", "", "RT"}, {"Pilot chart update", "fixed", "9400", "RT"}}},
	{name: "Dunmarrow Sailing Club", industry: "Leisure", work: []laterWork{{"Mooring layout", "hourly", "", "EF"}}},
	{name: "Corriehaven Parish", industry: "Public", taxCode: "R",
		work: []laterWork{{"Sea wall opinion", "capped", "15500", "EF"}, {"Flood meeting support", "hourly", "", "CR"}}},
	{name: "Lough Erran Anglers", industry: "Leisure", work: []laterWork{{"Weir and fish count", "hourly", "", "CR"}}},
	{name: "Mossel Point Aquaculture", industry: "Aquaculture",
		work: []laterWork{{"Licence renewal", "fixed", "12500", "CR"}, {"Water quality rounds", "recurring", "2400", "CR"}}},
	{name: "Perrin Quay Estates", industry: "Property", terms: "eom",
		work: []laterWork{{"Quay wall condition", "hourly", "", "EF"}, {"Planning objection", "hourly", "", "CR"}}},
	{name: "Saltgrass Farm", industry: "Farming", work: []laterWork{{"Managed bank breach", "hourly", "", "CR"}}},
	{name: "Kelder Dredging Cooperative", status: "not again", industry: "Dredging", terms: "receipt",
		work: []laterWork{{"Spoil ground dispute", "hourly", "", "RT"}}},
	{name: "Whinny Strand Golf Links", industry: "Leisure", work: []laterWork{{"Dune retreat", "capped", "24000", "EF"}}},
	{name: "Arden Shoal Wind", country: "GB", industry: "Energy",
		work: []laterWork{{"Met mast survey", "hourly", "", "RT"}, {"Bird and seal desk study", "fixed", "18400", "CR"},
			{"Cable burial review", "capped", "36000", "EF"}}},
	{name: "Bellwether Causeway Trust", industry: "Charity", work: []laterWork{{"Causeway drainage", "hourly", "", "EF"}}},
	{name: "Garrow Estuary Forum", industry: "Public", taxCode: "R", isNew: true,
		work: []laterWork{{"Forum secretariat", "recurring", "1200", "CR"}}},
	{name: "Hollin Weir Hydro", industry: "Energy", work: []laterWork{{"Intake screens", "hourly", "", "RT"},
		{"Fish pass levels", "fixed", "7600", "CR"}}},
	{name: "Innish Rona Ferry", industry: "Shipping", work: []laterWork{{"Berthing trials", "hourly", "", "RT"}}},
	{name: "Jarl Sound Salmon", industry: "Aquaculture", country: "NO",
		work: []laterWork{{"Pen exposure", "hourly", "", "CR"}, {"Benthic monitoring", "recurring", "3100", "CR"}}},
	{name: "Lanner Cliffs Hotel", industry: "Leisure", work: []laterWork{{"Cliff path stability", "fixed", "5400", "EF"}}},
	{name: "Merrow Bay School", industry: "Public", status: "prospect"},
	{name: "3 Quays Development", industry: "Property",
		work: []laterWork{{"Dock gate hydraulics", "hourly", "", "EF"}, {"Flood risk statement", "fixed", "14200", "EF"}}},
	{name: "12 Fathom Dive Centre", industry: "Leisure", isNew: true},
	{name: "Tidewrack Museum", industry: "Charity", work: []laterWork{{"Wreck site record", "hourly", "", "RT"}}},
	{name: "Old Pilot House", industry: "Property", gone: true, work: []laterWork{{"Party wall levels", "hourly", "", "RT"}}},
}

type laterClient struct {
	name, country, industry, terms, taxCode, status string
	currency                                        money.Currency
	isNew, gone                                     bool
	work                                            []laterWork
}

type laterWork struct{ name, arrangement, fee, lead string }

// Words for the work of the later clients.
var laterTexts = []string{"Site visit and levels", "Line %d, processing", "Draft of section %d", "Call with the client",
	"Drawings, sheet %d", "Review of the draft", "Data check, batch %d", "Photographs and notes"}
