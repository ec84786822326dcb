package calendar

import (
	"maps"
	"slices"
	"strings"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/ar"
	"github.com/rickar/cal/v2/at"
	"github.com/rickar/cal/v2/au"
	"github.com/rickar/cal/v2/be"
	"github.com/rickar/cal/v2/bg"
	"github.com/rickar/cal/v2/br"
	"github.com/rickar/cal/v2/ca"
	"github.com/rickar/cal/v2/ch"
	"github.com/rickar/cal/v2/cz"
	"github.com/rickar/cal/v2/de"
	"github.com/rickar/cal/v2/dk"
	"github.com/rickar/cal/v2/es"
	"github.com/rickar/cal/v2/fr"
	"github.com/rickar/cal/v2/gb"
	"github.com/rickar/cal/v2/gr"
	"github.com/rickar/cal/v2/hr"
	"github.com/rickar/cal/v2/ie"
	"github.com/rickar/cal/v2/it"
	"github.com/rickar/cal/v2/jp"
	"github.com/rickar/cal/v2/lt"
	"github.com/rickar/cal/v2/lv"
	"github.com/rickar/cal/v2/mw"
	"github.com/rickar/cal/v2/nl"
	"github.com/rickar/cal/v2/no"
	"github.com/rickar/cal/v2/nz"
	"github.com/rickar/cal/v2/pl"
	"github.com/rickar/cal/v2/ro"
	"github.com/rickar/cal/v2/ru"
	"github.com/rickar/cal/v2/se"
	"github.com/rickar/cal/v2/si"
	"github.com/rickar/cal/v2/sk"
	"github.com/rickar/cal/v2/ua"
	"github.com/rickar/cal/v2/us"
	"github.com/rickar/cal/v2/za"
)

// national are the lists that hold where no region is named. Australia has none: its states decide each for
// themselves.
var national = map[string][]*cal.Holiday{
	"AT": at.Holidays,
	"BE": be.Holidays,
	"BG": bg.Holidays,
	"BR": br.Holidays,
	"CA": ca.Holidays,
	"CH": ch.Holidays,
	"CZ": cz.Holidays,
	"DE": de.Holidays,
	"DK": dk.Holidays,
	"ES": es.Holidays,
	"FR": fr.Holidays,
	"GB": gb.Holidays,
	"GR": gr.Holidays,
	"HR": hr.Holidays,
	"IE": ie.Holidays,
	"IT": it.Holidays,
	"JP": jp.Holidays,
	"LT": lt.Holidays,
	"LV": lv.Holidays,
	"MW": mw.Holidays,
	"NL": nl.Holidays,
	"NO": no.Holidays,
	"NZ": nz.Holidays,
	"PL": pl.Holidays,
	"RO": ro.Holidays,
	"RU": ru.Holidays,
	"SE": se.Holidays,
	"SI": si.Holidays,
	"SK": sk.Holidays,
	"UA": ua.Holidays,
	"US": us.Holidays,
	"ZA": za.Holidays,
	"AR": ar.Holidays,
}

// regional are the lists of regions (ISO 3166-2) that have one of their own.
var regional = map[string][]*cal.Holiday{
	"AU-ACT": au.HolidaysACT,
	"AU-NSW": au.HolidaysNSW,
	"AU-NT":  au.HolidaysNT,
	"AU-QLD": au.HolidaysQLD,
	"AU-SA":  au.HolidaysSA,
	"AU-TAS": au.HolidaysTAS,
	"AU-VIC": au.HolidaysVIC,
	"AU-WA":  au.HolidaysWA,
	"CH-AG":  ch.HolidaysAG,
	"CH-AI":  ch.HolidaysAI,
	"CH-AR":  ch.HolidaysAR,
	"CH-BE":  ch.HolidaysBE,
	"CH-BL":  ch.HolidaysBL,
	"CH-BS":  ch.HolidaysBS,
	"CH-FR":  ch.HolidaysFR,
	"CH-GE":  ch.HolidaysGE,
	"CH-GL":  ch.HolidaysGL,
	"CH-GR":  ch.HolidaysGR,
	"CH-JU":  ch.HolidaysJU,
	"CH-LU":  ch.HolidaysLU,
	"CH-NE":  ch.HolidaysNE,
	"CH-NW":  ch.HolidaysNW,
	"CH-OW":  ch.HolidaysOW,
	"CH-SG":  ch.HolidaysSG,
	"CH-SH":  ch.HolidaysSH,
	"CH-SO":  ch.HolidaysSO,
	"CH-SZ":  ch.HolidaysSZ,
	"CH-TG":  ch.HolidaysTG,
	"CH-TI":  ch.HolidaysTI,
	"CH-UR":  ch.HolidaysUR,
	"CH-VD":  ch.HolidaysVD,
	"CH-VS":  ch.HolidaysVS,
	"CH-ZG":  ch.HolidaysZG,
	"CH-ZH":  ch.HolidaysZH,
	"DE-BB":  de.HolidaysBB,
	"DE-BE":  de.HolidaysBE,
	"DE-BW":  de.HolidaysBW,
	"DE-BY":  de.HolidaysBY,
	"DE-HB":  de.HolidaysHB,
	"DE-HE":  de.HolidaysHE,
	"DE-HH":  de.HolidaysHH,
	"DE-MV":  de.HolidaysMV,
	"DE-NI":  de.HolidaysNI,
	"DE-NW":  de.HolidaysNW,
	"DE-RP":  de.HolidaysRP,
	"DE-SH":  de.HolidaysSH,
	"DE-SL":  de.HolidaysSL,
	"DE-SN":  de.HolidaysSN,
	"DE-ST":  de.HolidaysST,
	"DE-TH":  de.HolidaysTH,
}

// Countries are those whose public holidays are known, in the whole or in some of their regions.
func Countries() []string {
	all := map[string]bool{}
	for key := range national {
		all[key] = true
	}
	for key := range regional {
		country, _, _ := strings.Cut(key, "-")
		all[country] = true
	}
	return slices.Sorted(maps.Keys(all))
}

// KnownIn reports whether the public holidays of a region (ISO 3166-2, the part behind the hyphen; empty for the whole
// country) are known.
func KnownIn(country, region string) bool {
	country = strings.ToUpper(country)
	return national[country] != nil || regional[country+"-"+strings.ToUpper(region)] != nil
}
