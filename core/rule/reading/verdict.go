package reading

import (
	"golang.org/x/net/html"
	"strings"

	"uvent/core/fact/address"
)

// goneWords are how pages say that there is no such listing, or no longer, folded, in English, French, German and
// Spanish.
var goneWords = []string{
	"not found", "no longer available", "no longer exists", "no longer listed", "does not exist", "doesnt exist", "has been removed", "was removed",
	"has been deleted", "could not be found", "couldnt be found", "cant find", "cannot find", "can not find", "no such", "nothing here", "is gone",
	"page gone", "404", "410", "listing removed", "this listing has ended", "isnt available", "is not available", "not available anymore", "no listing",
	"introuvable", "nexiste plus", "n existe plus", "nexiste pas", "a ete supprimee", "a ete supprime", "nest plus disponible", "n est plus disponible",
	"nicht gefunden", "existiert nicht", "nicht mehr verfugbar", "wurde entfernt", "wurde geloscht", "no encontrada", "no encontrado", "ya no existe",
	"ya no esta disponible", "ha sido eliminada", "ha sido eliminado", "no existe",
}

// blankWords are what a page says that shows nothing before a program has run.
var blankWords = []string{
	"enable javascript", "requires javascript", "javascript is required", "javascript is disabled", "turn on javascript", "loading", "please wait",
	"activer javascript", "javascript aktivieren", "habilite javascript", "chargement", "wird geladen", "cargando",
}

// fewWords is how many words a page may have that shows nothing, and mostGone how many one that says that a listing is gone.
const (
	fewWords = 12
	mostGone = 120
)

// verdict is what a page is that shows no place of business.
func (p page) verdict() Kind {
	text := textOf(p.root)
	words := strings.Fields(text)
	folded := address.Fold(text)
	head := address.Fold(p.heading() + " / " + p.title())
	switch {
	case len(words) == 0 && !anyOf(head, goneWords):
		return Empty
	case anyOf(head, goneWords) || len(words) <= mostGone && anyOf(folded, goneWords):
		return Gone
	case len(words) <= fewWords && p.heading() == "" || len(words) <= mostGone/3 && anyOf(folded, blankWords):
		return Empty
	}
	return Other
}

// aPlace reports whether a page without marks is about one place, as people see it: a heading, and an address or a number
// that stand once.
func (p page) aPlace(heading string) bool {
	if heading == "" || anyOf(address.Fold(heading), goneWords) || stateless(heading) {
		return false
	}
	numbers := map[string]bool{}
	count := 0
	shown(p.root, func(n *html.Node) bool {
		if element(n, "address") {
			count++
		}
		if to, ok := strings.CutPrefix(attribute(n, "href"), "tel:"); ok && element(n, "a") {
			numbers[to] = true
		}
		return true
	})
	return count <= 2 && len(numbers) <= 4
}

// stateless reports whether a heading is that of a list or a question, and no name.
func stateless(heading string) bool {
	folded := address.Fold(heading)
	for _, begins := range []string{
		"search results", "results for", "results", "log in", "sign in", "access denied", "just a moment", "are you human", "verify you are", "resultats",
		"suchergebnisse", "resultados",
	} {
		if folded == begins || strings.HasPrefix(folded, begins+" ") {
			return true
		}
	}
	return strings.HasSuffix(folded, " results") || strings.Contains(folded, " results for ")
}
