package said

import (
	"strings"
	"time"

	"uvent/core/fact/hours"
)

// kind is what a word or a phrase means in hours.
type kind uint8

const (
	unknown     kind = iota
	day              // a weekday
	initial          // a letter that may be one of several weekdays
	days             // several: weekdays, daily
	looseDays        // several, but which is meant differs from place to place: werktags
	holiday          // public holidays
	closed           //
	always           // round the clock
	appointment      // by appointment
	noon             //
	midnight         //
	am               //
	pm               //
	hourMark         // says that a number is an hour of twenty-four: Uhr, h
	to               // from one to the other
	and              //
	except           //
	rest             // the days that nothing else is said of: otherwise
	lunch            // a break: what follows is shut
	open             // an end that nobody knows: till late
	filler           // means nothing here
	month            //
)

// sense is what a word means, with its days or its month.
type sense struct {
	kind  kind
	days  hours.DaySet
	month time.Month
}

const (
	monday hours.DaySet = 1 << iota
	tuesday
	wednesday
	thursday
	friday
	saturday
	sunday
	workdays = monday | tuesday | wednesday | thursday | friday
	weekend  = saturday | sunday
	everyDay = workdays | weekend
)

// language is how hours are said in one: its words and phrases, folded, by the words of a phrase
// with a space between.
type language struct {
	code    string // BCP 47
	name    string
	twelve  bool // people count hours by twelve
	senses  map[string]sense
	longest int            // words of the longest phrase
	twice   map[string]int // phrases that are listed more than once, which would leave open what they mean
}

// names are the weekdays' and months' names: each line is one, Monday and January first.
func speak(code, name string, twelve bool, weekdays, months string, phrases map[kind]string, sets map[hours.DaySet]string) *language {
	l := &language{code: code, name: name, twelve: twelve, senses: map[string]sense{}, twice: map[string]int{}}
	add := func(list string, s sense) {
		for _, p := range strings.Split(list, ",") {
			if p = fold(strings.TrimSpace(p)); p != "" {
				if old, listed := l.senses[p]; listed && old != s {
					l.twice[p]++
				}
				l.senses[p] = s
				l.longest = max(l.longest, len(strings.Fields(p)))
			}
		}
	}
	for i, line := range strings.Split(months, ";") {
		add(line, sense{kind: month, month: time.Month(i + 1)})
	}
	for i, line := range strings.Split(weekdays, ";") {
		add(line, sense{kind: day, days: 1 << i})
	}
	for k, list := range phrases {
		add(list, sense{kind: k})
	}
	for set, list := range sets {
		add(list, sense{kind: days, days: set})
	}
	return l
}

var english = speak("en", "English", true,
	`monday,mondays,mon,mo,mond; tuesday,tuesdays,tue,tues,tu,teusday; wednesday,wednesdays,wed,weds,we,wednes; thursday,thursdays,thu,thur,thurs,th,thrs;
	friday,fridays,fri,fr; saturday,saturdays,sat,sa,satur; sunday,sundays,sun,su`,
	`january,jan; february,feb; march,mar; april,apr; may; june,jun; july,jul; august,aug; september,sep,sept; october,oct; november,nov; december,dec`,
	map[kind]string{
		holiday: "ph, public holidays, public holiday, bank holidays, bank holiday, holidays, holiday, bank hols, hols, federal holidays, national holidays, legal holidays, public hols, stat holidays, statutory holidays",
		closed:  "closed, shut, off, not open, x, none, clsd, closed all day, no service, n / a",
		always:  "24 / 7, 24 hours, 24 hrs, 24 hr, 24 h, 24 hours a day, 24 hour, all day, round the clock, around the clock, open 24 hours, 24 hours daily, 24 - 7, all day long, always open, always, 24 hours / 7 days",
		appointment: `by appointment, by appointment only, appointment only, appointments only, by appt, by appt only, appt only, on request, by arrangement, upon request,
			call for hours, call for appointment`,
		noon: "noon, midday, 12 noon, mid day", midnight: "midnight, 12 midnight, mid night", am: "am, a m, in the morning, ante meridiem, morning", pm: "pm, p, p m, in the afternoon, in the evening, at night",
		hourMark: "hrs, h, hr", to: "to, till, til, until, thru, through, through to, up to, untill",
		and: "and, n, plus, as well as, also, then, again, and again, and then", except: "except, excluding, but not, but, apart from, other than, save, excl, except for, with the exception of",
		rest:   "otherwise, other days, all other days, rest of the week, the rest of the week, remaining days, else, the other days, every other day of the week",
		lunch:  "lunch, lunch break, closed for lunch, break, lunchtime closing, closed for lunch break, lunch closed, siesta, closed between",
		open:   "late, close, closing, til late, till late, until late, sunset, dusk, last customer, sold out, last orders, dark, whenever, onwards, onward",
		filler: "open, opens, opening, opening hours, hours, from, on, at, the, every, each, are, we are, our, shop, store, business, business hours, hours of operation, opening times, times, of, day, a, o'clock, oclock, only, hour, office, office hours, is, trading hours, normal, regular, between, week, days, local time, store hours, in, usually, please note, note, est, edt, cst, cdt, mst, mdt, pst, pdt, gmt, bst, hrs of operation, during, for, reg, standard time",
	},
	map[hours.DaySet]string{
		workdays: "weekdays, weekday, week days, working days, business days, work days, midweek, mon thru fri, every weekday, on weekdays",
		weekend:  "weekends, weekend, the weekend, week end, week ends, at weekends, on weekends, week - ends, week - end",
		everyDay: "daily, every day, everyday, all week, seven days, 7 days, 7 days a week, seven days a week, all days, 7 days per week, days a week, each day, 7 / 7, all 7 days, 7 d, any day, whole week, every day of the week, open daily, open every day, 7 days / week",
	},
)

var german = speak("de", "German", false,
	`montag,montags,mo,mon,mont; dienstag,dienstags,di,dien; mittwoch,mittwochs,mi,mit,mitt; donnerstag,donnerstags,do,don,donn; freitag,freitags,fr,fre;
	samstag,samstags,sa,sam,sonnabend,sonnabends; sonntag,sonntags,so,son,sonn`,
	`januar,jan,janner; februar,feb; marz,mrz; april,apr; mai; juni,jun; juli,jul; august,aug; september,sep,sept; oktober,okt; november,nov; dezember,dez`,
	map[kind]string{
		holiday:     "feiertag, feiertage, feiertags, feiertagen, an feiertagen, gesetzliche feiertage, ft, gesetzlichen feiertagen",
		closed:      "geschlossen, zu, ruhetag, ruhetage, geschl, nicht geoffnet, schliesstag, frei, keine offnung, ist ruhetag",
		always:      "24 stunden, 24 std, 24 h, rund um die uhr, durchgehend geoffnet, ganztagig, ganztags, 24 stunden geoffnet, 24 / 7, immer, immer geoffnet, 24 h / 7",
		appointment: "nach vereinbarung, nach absprache, termine nach vereinbarung, nur nach vereinbarung, nach terminvereinbarung, nach telefonischer vereinbarung, mit termin, nur mit termin, termin nach vereinbarung, auf anfrage, nach voranmeldung",
		noon:        "mittag, mittags, 12 uhr mittags, 12 mittags", midnight: "mitternacht, 24 uhr, 0 uhr nachts", am: "morgens, vormittags, fruh, vorm",
		pm: "nachmittags, abends, nachm", hourMark: "uhr, h, std", to: "bis, bis zu, bis um, bis einschliesslich", and: "und, u, sowie, dann, plus, und von, wieder, sowie von",
		except: "ausser, ausgenommen, nicht, bis auf, mit ausnahme von, ausser am, nicht am, ausgen",
		rest:   "sonst, ansonsten, ubrige tage, an den ubrigen tagen, restliche tage, alle anderen tage, die ubrigen tage, andere tage",
		lunch:  "mittagspause, pause, mittags geschlossen, mittagspause von",
		open:   "open end, ende offen, spat, schluss, ladenschluss, sonnenuntergang, ausverkauf, ende, openend",
		filler: "von, ab, am, um, an, geoffnet, offen, offnungszeiten, jeden, jeder, der, die, das, wir, haben, sind, ist, den, offnungszeit, zeiten, unsere, fur, sie, im, in, zeit, laden, geschaft, buro, burozeiten, sprechzeiten, sprechstunde, sprechstunden, tag, durchgehend, ganzjahrig, immer von, jeweils, stets, zwischen, jede, woche",
	},
	map[hours.DaySet]string{
		weekend:  "wochenende, am wochenende, wochenenden, wochenends, an wochenenden",
		everyDay: "taglich, jeden tag, alle tage, tagl, an allen tagen, 7 tage, 7 tage die woche, die ganze woche, ganze woche, 7 tage in der woche, 7 tage / woche",
		workdays: "unter der woche, montags bis freitags",
	},
)

var french = speak("fr", "French", false,
	`lundi,lundis,lun,lu; mardi,mardis,mar,ma; mercredi,mercredis,mer,me,merc; jeudi,jeudis,jeu,je; vendredi,vendredis,ven,ve,vend; samedi,samedis,sam,sa; dimanche,dimanches,dim,di`,
	`janvier,janv,jan; fevrier,fevr,fev; mars; avril,avr; mai; juin; juillet,juil; aout; septembre,sept,sep; octobre,oct; novembre,nov; decembre,dec`,
	map[kind]string{
		holiday:     "jours feries, jour ferie, feries, ferie, les jours feries, fetes, jf",
		closed:      "ferme, fermee, fermes, fermeture, fermeture hebdomadaire, fermeture annuelle, pas ouvert, repos, ferme toute la journee",
		always:      "24 h / 24, 24 / 24, 24 h, 24 heures, 24 h / 24 h, 24 h sur 24, 24 / 7, 24 heures sur 24, jour et nuit, toute la journee, 24 h / 24 et 7 j / 7, 24 h / 24 7 j / 7, sans interruption 24 h",
		appointment: "sur rendez - vous, sur rdv, sur rendez vous, uniquement sur rendez - vous, sur rendez - vous uniquement, rdv uniquement, sur demande, uniquement sur rdv",
		noon:        "midi", midnight: "minuit", am: "du matin, matin, le matin", pm: "du soir, de l'apres - midi, apres - midi, soir, l'apres - midi, le soir", hourMark: "h, heures, heure, hrs",
		to: "a, au, jusqu'a, jusqu'au, jusque, aux, - a, jusqu a, jusqu'a la", and: "et, et de, puis, puis de, ainsi que, et du, et le, & de",
		except: "sauf, sauf le, excepte, hormis, hors, a l'exception du, sauf les",
		rest:   "autrement, sinon, autres jours, les autres jours, le reste de la semaine, reste de la semaine",
		lunch:  "pause, pause dejeuner, ferme le midi, pause de midi, ferme de, ferme entre, pause dejeuner de, pause midi",
		open:   "tard, fermeture du magasin, coucher du soleil, la fermeture, dernier client, la nuit",
		filler: "du, de, le, les, des, la, ouvert, ouverte, ouverts, ouvert de, ouverture, horaires, horaires d'ouverture, horaire, nous, sommes, en continu, non - stop, non stop, sans interruption, chaque, magasin, boutique, heures d'ouverture, l, entre, d'ouverture, journee continue, tous, toutes, jours, jour, semaine, notre, est, en, continu",
	},
	map[hours.DaySet]string{
		weekend:  "week - end, week - ends, weekend, weekends, le week - end, fin de semaine, les week - ends",
		everyDay: "tous les jours, 7 j / 7, 7 jours sur 7, 7 / 7, tlj, chaque jour, toute la semaine, 7 j sur 7, tous les jours de la semaine, quotidiennement",
		workdays: "en semaine, jours ouvres, les jours ouvres",
	},
)

var spanish = speak("es", "Spanish", false,
	`lunes,lun,lu; martes,mar,ma; miercoles,mie,mi,mier,mierc; jueves,jue,ju,juev; viernes,vie,vi,vier; sabado,sabados,sab,sa; domingo,domingos,dom,do`,
	`enero,ene; febrero,feb; marzo; abril,abr; mayo,may; junio,jun; julio,jul; agosto,ago; septiembre,setiembre,sept,sep; octubre,oct; noviembre,nov; diciembre,dic`,
	map[kind]string{
		holiday:     "festivos, festivo, dias festivos, feriados, feriado, dias feriados, fiestas, los festivos",
		closed:      "cerrado, cerrada, cerramos, no abrimos, descanso, cerrados, descanso semanal",
		always:      "24 horas, 24 h, 24 / 7, las 24 horas, todo el dia, abierto 24 horas, 24 hs, las 24 horas del dia, 24 horas al dia, siempre abierto",
		appointment: "con cita previa, cita previa, previa cita, solo con cita previa, con cita, solo con cita, bajo cita, previa cita unicamente",
		noon:        "mediodia, al mediodia, 12 del mediodia", midnight: "medianoche, 12 de la noche", am: "am, a m, de la manana, manana, por la manana",
		pm: "pm, p m, de la tarde, de la noche, tarde, por la tarde", hourMark: "h, hs, hrs, horas, hora",
		to: "a, al, hasta, hasta las, a las, hasta la, a los", and: "y, y de, e, y por, luego, y los, y el, tambien, y desde",
		except: "excepto, salvo, menos, excepto los, menos los, a excepcion de",
		rest:   "resto, resto de dias, los demas dias, demas dias, resto de la semana, el resto, otros dias",
		lunch:  "descanso de, cerrado de, cerrado al mediodia, pausa, siesta",
		open:   "cierre, hasta el cierre, tarde en la noche, anochecer, ultimo cliente, el cierre",
		filler: "de, del, los, las, el, la, abierto, abierta, abrimos, abiertos, horario, horarios, desde, desde las, cada, tienda, en, todos, todas, dias, dia, nuestro, es, semana, horario de atencion, atencion, horario comercial, entre, por, continuado, ininterrumpido, horario continuo, corrido, lo",
	},
	map[hours.DaySet]string{
		weekend:  "fines de semana, fin de semana, los fines de semana, el fin de semana, finde",
		everyDay: "todos los dias, diario, a diario, diariamente, cada dia, toda la semana, 7 dias, 7 dias a la semana, de lunes a domingo todos los dias, los 7 dias",
		workdays: "entre semana, dias de semana, de lunes a viernes laborables",
	},
)

func init() {
	for word, set := range map[string]hours.DaySet{
		"m": monday, "t": tuesday | thursday, "w": wednesday, "r": thursday, "f": friday, "s": saturday | sunday,
	} {
		english.senses[word] = sense{kind: initial, days: set}
	}
	for word, set := range map[string]hours.DaySet{"m": monday, "d": tuesday | thursday, "f": friday, "s": saturday | sunday} {
		german.senses[word] = sense{kind: initial, days: set}
	}
	for word, set := range map[string]hours.DaySet{"l": monday, "m": tuesday | wednesday, "j": thursday, "v": friday, "s": saturday, "d": sunday} {
		french.senses[word] = sense{kind: initial, days: set}
	}
	for word, set := range map[string]hours.DaySet{"l": monday, "m": tuesday | wednesday, "x": wednesday, "j": thursday, "v": friday, "s": saturday, "d": sunday} {
		spanish.senses[word] = sense{kind: initial, days: set}
	}
	for _, word := range []string{"werktags", "werktag", "werktage", "wochentags", "an werktagen", "wochentage", "werktaglich"} {
		german.senses[word] = sense{kind: looseDays, days: workdays}
	}
	for _, word := range []string{"laborables", "dias laborables", "laborable", "dias habiles", "dias de trabajo"} {
		spanish.senses[word] = sense{kind: looseDays, days: workdays}
	}
	for _, word := range []string{"jours ouvrables", "les jours ouvrables"} {
		french.senses[word] = sense{kind: looseDays, days: workdays}
	}
	for _, l := range languages {
		for phrase := range l.senses {
			l.longest = max(l.longest, len(strings.Fields(phrase)))
		}
	}
}

// languages are those that are read, in the order in which they are tried.
var languages = []*language{english, german, french, spanish}

// habits are the languages of countries, ISO 3166-1, and whether people there count hours by twelve.
var habits = map[string]struct {
	languages string
	twelve    bool
}{
	"US": {"en es", true}, "CA": {"en fr", true}, "GB": {"en", true}, "IE": {"en", true}, "AU": {"en", true}, "NZ": {"en", true}, "IN": {"en", true}, "ZA": {"en", true},
	"PH": {"en", true}, "SG": {"en", true}, "MX": {"es", true}, "CO": {"es", true}, "VE": {"es", true}, "PE": {"es", true}, "DO": {"es", true}, "PR": {"es en", true},
	"DE": {"de", false}, "AT": {"de", false}, "CH": {"de fr", false}, "LI": {"de", false}, "LU": {"fr de", false}, "FR": {"fr", false}, "BE": {"fr", false}, "MC": {"fr", false},
	"ES": {"es", false}, "AR": {"es", false}, "CL": {"es", false}, "UY": {"es", false},
}
