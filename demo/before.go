package demo

import "uvent/outside/visit"

// placed is a listing that was there before the agency came.
type placed struct {
	holder string
	facts  visit.Facts
	on     string // the directory; empty: Fernlook
}

var us, ca = visit.Facts{"region": "WA", "country": "US"}, visit.Facts{"region": "BC", "country": "CA"}

var before = []placed{
	// Two digits of the phone swapped, and no lunch break.
	{
		holder: "",
		facts: with(
			us,
			visit.Facts{"name": "Spokeshave Cycle Works", "street": "7 Heronry Rd, Ste B", "locality": "Three Herons", "postal_code": "98993", "phone": "+13605550164",
				"website": "https://spokeshave.example/three-herons?utm_source=fernlook", "category": "Bike store", "hours": "Tu-Fr 09:00-18:00; Sa 09:00-16:00"},
		),
	},
	{
		holder: "maps@northlightmedia.example",
		facts: with(us, visit.Facts{"name": "Sablecote Vet", "street": "15 Orchard St", "locality": "Quillcote", "postal_code": "98992", "phone": "+13605550182",
			"website": "https://sablecote.example", "category": "Animal clinic", "hours": "Mo-Fr 08:00-18:00"}),
	},
	{
		holder: "",
		facts: with(
			ca,
			visit.Facts{"name": "Saltgrass Laundry", "street": "56 Glacier St", "locality": "Upper Moraine", "postal_code": "V0O 1H6", "phone": "+12505550192",
				"category": "Self-service laundry", "hours": "Mo-Su 06:00-24:00"},
		),
	},
	{
		holder: "",
		facts: with(
			us,
			visit.Facts{"name": "Nettlewick Wool Room", "street": "31 Chandlery Lane", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
				"category": "Wool and yarn store"},
		),
	},
	{
		holder: "",
		facts: with(us, visit.Facts{"name": "Nettlewick Yarns", "street": "9 Old Wharf", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"website": "https://nettlewick.example/old-wharf", "category": "Wool and yarn store", "hours": "Tu-Sa 10:00-17:30"}),
	},
	{
		holder: "owner@gullandspoke.example",
		facts: with(us, visit.Facts{"name": "Gull and Spoke Bicycles", "street": "12 Breakwater Street", "locality": "Port Sable", "postal_code": "98991",
			"phone": "+13605550173", "category": "Bike store", "hours": "Mo-Sa 09:00-18:00"}),
	},
	{
		holder: "owner@quaywash.example",
		facts: with(ca, visit.Facts{"name": "Quay Wash", "street": "90 Fennick Road", "locality": "Fennick", "postal_code": "V0O 1F2", "phone": "+12505550171",
			"category": "Self-service laundry", "hours": "24/7"}),
	},
	{
		facts: with(
			us,
			visit.Facts{
				"name":        "Sablecote Veterinary",
				"street":      "77 Lantern Hill Rd",
				"locality":    "Port Sable",
				"postal_code": "98991",
				"phone":       "+13605550180",
				"category":    "Vet",
			},
		),
		on: "waywren",
	},
	// At a former address.
	{
		facts: with(
			us,
			visit.Facts{
				"name":        "Spokeshave Cycle Works",
				"street":      "2 Heronry Road",
				"locality":    "Three Herons",
				"postal_code": "98993",
				"phone":       "+13605550146",
				"category":    "Bicycles",
			},
		),
		on: "candourbox",
	},
	{
		holder: "maps@northlightmedia.example",
		facts: with(
			us,
			visit.Facts{
				"name":        "Sablecote Veterinary",
				"street":      "15 Orchard Street",
				"locality":    "Quillcote",
				"postal_code": "98992",
				"phone":       "+13605550182",
				"category":    "Vets",
			},
		),
		on: "candourbox",
	},
}
