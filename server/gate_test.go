package server

import (
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"copperlark/app"
)

var pathParameter = regexp.MustCompile(`[:*][a-z]+|\{[a-z]+\}`)

// gateOf is who may ask which route, said a second time: a route that is not here, or that another gate stands before, fails.
var gateOf = map[gate][]string{
	anyone: {
		"GET /api/ways", "POST /api/sign-in", "POST /api/sign-in/passkey/begin", "POST /api/sign-in/passkey",
		"POST /api/forgotten", "POST /api/new-password", "POST /api/first", "GET /api/invited/:key",
		"POST /api/invited/:key/anew", "GET /organisation", "GET /organisation/back", "GET /sign-in/:link", "POST /sign-in/:link",
		"GET /s/:key", "GET /s/:key/figure", "GET /s/:key/figure/exact", "GET /s/:key/rows/:row", "GET /s/:key/table.csv",
		"POST /s/:key", "GET /s/:key/figure/phone", "GET /s/:key/links", "GET /s/:key/state", "GET /s/:key/earlier",
		"GET /s/:key/preview.png", "GET /s/:key/table.parquet", "GET /embed/:key", "GET /oembed",
		"GET /health", "GET /ready", "GET /metrics",
	},
	themselves: {
		"POST /api/sign-out", "POST /api/invited/:key", "GET /api/me", "PATCH /api/me", "PUT /api/me/password",
		"GET /api/me/sessions", "DELETE /api/me/sessions/:id", "GET /api/me/factor", "POST /api/me/factor",
		"POST /api/me/factor/confirm", "POST /api/me/factor/show", "POST /api/me/factor/drop", "POST /api/me/passkeys/begin",
		"POST /api/me/passkeys", "POST /api/me/passkeys/drop", "POST /api/spaces", "POST /api/spaces/file",
	},
	readers: {
		"GET /api/people", "POST /api/space/leave", "GET /api/keys", "POST /api/keys", "DELETE /api/keys/:id",
		"GET /api/datasets", "GET /api/datasets/:id", "GET /api/style",
		"GET /api/versions/:version/sayable", "GET /api/examples", "POST /api/built", "GET /api/datasets/:id/meanings",
		"GET /api/language", "GET /api/datasets/:id/versions", "GET /api/datasets/:id/draft", "GET /api/datasets/:id/one-row",
		"POST /api/versions/:version/preparation", "POST /api/versions/:version/preparation/completions",
		"POST /api/versions/:version/view", "GET /api/versions/:version/rows/:row", "POST /api/versions/:version/numbers",
		"GET /api/versions/:version/goes-with/:column", "GET /api/versions/:version/first-look",
		"POST /api/versions/:version/summary", "POST /api/versions/:version/groups", "POST /api/versions/:version/explanations",
		"POST /api/versions/:version/holds", "POST /api/versions/:version/with-and-without", "POST /api/versions/:version/pairs",
		"POST /api/versions/:version/evidence", "POST /api/versions/:version/figure", "POST /api/versions/:version/drawing",
		"POST /api/versions/:version/choices", "POST /api/versions/:version/additions", "POST /api/versions/:version/completions",
		"GET /api/work", "GET /api/charts", "GET /api/charts/:id", "GET /api/charts/:id/steps/:step", "GET /api/charts/:id/events",
		"GET /api/shares",
		"GET /api/charts/:id/steps/:step/picture.svg", "GET /api/charts/:id/steps/:step/figure", "GET /api/pages", "GET /api/pages/:id",
		"GET /api/pages/:id/versions", "GET /api/pages/:id/versions/:version", "GET /api/compared", "GET /api/compared/figure",
		"POST /api/pages/followed", "GET /api/shares/:id/opens", "GET /api/notes", "POST /api/notes/:id/seen",
		"GET /api/datasets/:id/events", "GET /api/pages/:id/events",
		"GET /api/datasets/:id/origin", "GET /api/datasets/:id/moved", "GET /api/found/charts", "GET /api/comparisons", "GET /api/patterns",
		"POST /api/versions/:version/fitted", "GET /api/looks",
	},
	makers: {
		"PUT /api/uploads/:key", "POST /api/uploads/:key/keep", "DELETE /api/uploads/:key", "POST /api/datasets",
		"PUT /api/style", "PATCH /api/datasets/:id", "PUT /api/datasets/:id/meanings", "POST /api/datasets/:id/meanings/file",
		"DELETE /api/datasets/:id", "PUT /api/datasets/:id/draft", "POST /api/datasets/:id/files/:key",
		"POST /api/datasets/:id/files/:key/keep",
		"POST /api/datasets/:id/files/:key/added", "POST /api/datasets/:id/edited", "POST /api/versions/:version/prepared",
		"POST /api/charts", "PATCH /api/charts/:id", "DELETE /api/charts/:id", "POST /api/charts/:id/steps",
		"PATCH /api/charts/:id/steps/:step", "DELETE /api/charts/:id/steps/:step", "POST /api/charts/:id/steps/:step/back",
		"POST /api/charts/:id/asked", "POST /api/shares", "DELETE /api/shares/:id", "POST /api/uploads",
		"GET /api/versions/:version/table/:form", "POST /api/pages", "PUT /api/pages/:id", "DELETE /api/pages/:id",
		"POST /api/pages/:id/share", "POST /api/pages/:id/look",
		"POST /api/shares/look", "POST /api/copies", "POST /api/notes", "POST /api/notes/:id/answers", "PATCH /api/notes/:id",
		"DELETE /api/notes/:id", "DELETE /api/notes/:id/answers/:answer", "PUT /api/windows/:window",
		"GET /api/datasets/:id/files/:key/moved", "POST /api/patterns", "PATCH /api/patterns/:id", "DELETE /api/patterns/:id",
		"POST /api/charts/:id/copy", "POST /api/comparisons", "DELETE /api/comparisons/:id",
		"GET /api/origins", "GET /api/sources", "POST /api/sources/rows", "POST /api/sources/charts",
		"POST /api/versions/:version/under",
		"GET /api/versions/:version/whole", "POST /api/versions/:version/whole", "DELETE /api/versions/:version/whole",
		"PUT /api/datasets/:id/origin", "DELETE /api/datasets/:id/origin", "POST /api/datasets/:id/origin/asked",
		"POST /api/looks", "DELETE /api/looks/:id",
	},
	keys(app.ScopeRead): {
		"GET /api/v1", "GET /api/v1/datasets", "GET /api/v1/datasets/:id", "GET /api/v1/charts",
		"GET /api/v1/charts/:chart/numbers", "POST /api/v1/numbers", "GET /api/v1/shares", "GET /api/v1/versions/:version",
		"GET /api/v1/charts/:chart", "GET /api/v1/pages", "GET /api/v1/pages/:page",
	},
	keys(app.ScopeAppend): {
		"PUT /api/v1/datasets/:id/rows", "POST /api/v1/datasets/:id/asked",
	},
	keys(app.ScopeMake): {
		"POST /api/v1/versions/:version/prepared", "POST /api/v1/charts", "PATCH /api/v1/charts/:chart", "POST /api/v1/datasets",
		"POST /api/v1/pages", "PUT /api/v1/pages/:page",
	},
	keys(app.ScopeShare): {
		"POST /api/v1/charts/:chart/share", "POST /api/v1/pages/:page/share", "DELETE /api/v1/shares/:id",
	},
	owners: {
		"PATCH /api/people/:id", "DELETE /api/people/:id", "POST /api/people/:id/password-link", "GET /api/invitations",
		"POST /api/invitations", "DELETE /api/invitations/:id", "PATCH /api/space", "GET /api/audit", "GET /api/audit.csv",
		"GET /api/hooks", "POST /api/hooks",
		"DELETE /api/hooks/:id", "GET /api/hooks/calls",
		"GET /api/space/file",
	},
}

// TestTheGateOfEveryRoute asks every route as everybody: nobody, somebody of another space, somebody who was taken out, a
// reader, a maker, an owner without the second factor that is asked of them, and an owner.
func TestTheGateOfEveryRoute(t *testing.T) {
	anwen, bram, nobody := world(t)
	space := number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id")
	gone := nobody.come("gone", anwensSpace, app.Owner)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/people/%d", number(want[object](gone, 200, "GET", "/api/me", nil), "id")), nil)
	nobody.server.strangers = newPaces(1e6) // who guesses keys is slowed down, which is not looked at here
	asks := []struct {
		who  *visitor
		name string
		may  []gate
		told error // in place of an answer
	}{
		{nobody, "nobody", []gate{anyone}, app.ErrNotSignedIn},
		{bram, "somebody of another space", []gate{anyone, themselves}, app.ErrNotHere},
		{gone, "somebody who was taken out", []gate{anyone, themselves}, app.ErrNotHere},
		{nobody.come("rhys", anwensSpace, app.Reader), "a reader", []gate{anyone, themselves, readers}, app.ErrNotAllowed},
		{nobody.come("mab", anwensSpace, app.Maker), "a maker", []gate{anyone, themselves, readers, makers}, app.ErrNotAllowed},
		{nobody.come("olwen", anwensSpace, app.Owner), "an owner", []gate{anyone, themselves, readers, makers, owners}, nil},
		{anwen, "an owner who lacks the second factor", []gate{anyone, themselves}, app.ErrNeedsFactor},
	}
	for _, one := range asks {
		if one.told == app.ErrNeedsFactor {
			want[object](anwen, 204, "PATCH", "/api/space", object{"factor_of": []string{"owner"}})
		}
		one.who.space = space
		for _, route := range gatedRoutes(t, nobody.server) {
			path := pathParameter.ReplaceAllString(route.path, "999999999")
			answer := one.who.send(route.method, path, object{})
			stopped := slices.ContainsFunc([]error{app.ErrNotSignedIn, app.ErrNotHere, app.ErrNotAllowed, app.ErrNeedsFactor,
				app.ErrNoKey}, func(err error) bool {
				return strings.Contains(answer.Body.String(), err.Error()) || strings.Contains(answer.Body.String(), capitalised(err.Error()))
			})
			if may := slices.Contains(one.may, route.who); may == stopped {
				t.Errorf("%s asks %s %s, which is for %s: %d %s", one.name, route.method, path, route.who.name, answer.Code, answer.Body)
			} else if told := one.told; stopped && route.who.key != "" {
				if !strings.Contains(answer.Body.String(), app.ErrNoKey.Error()) {
					t.Errorf("%s, by a session, is told %s at %s %s", one.name, answer.Body, route.method, path)
				}
			} else if stopped && !strings.Contains(answer.Body.String(), told.Error()) {
				t.Errorf("%s is told %s at %s %s", one.name, answer.Body, route.method, path)
			}
		}
	}
}

type gatedRoute struct {
	method, path string
	who          gate
}

// gatedRoutes are the routes of gateOf, which must be all that there are; those that end something for whoever asks come last.
func gatedRoutes(t *testing.T, s *Server) []gatedRoute {
	t.Helper()
	said := map[string]gate{}
	for who, names := range gateOf {
		for _, name := range names {
			said[name] = who
		}
	}
	var list, last []gatedRoute
	for _, route := range s.router.Routes() {
		name := route.Method + " " + route.Path
		stands, known := s.gates[name]
		if !known {
			t.Errorf("%s has no gate", name)
		}
		who, is := said[name]
		if !is && !strings.HasPrefix(name, "GET "+openAPIPath) && !isPage(route.Path) {
			t.Errorf("%s is in no list of this test", name)
		}
		if is && who != stands {
			t.Errorf("%s is for %s, want %s", name, stands.name, who.name)
		}
		delete(said, name)
		one := gatedRoute{route.Method, route.Path, stands}
		switch name {
		case "POST /api/space/leave", "POST /api/sign-out":
			last = append(last, one)
		default:
			list = append(list, one)
		}
	}
	if len(said) > 0 {
		t.Errorf("there are no routes %v", said)
	}
	slices.SortFunc(last, func(a, b gatedRoute) int { return strings.Compare(b.path, a.path) }) // first leave, then sign out
	return append(list, last...)
}

func isPage(path string) bool {
	return path == "/api" || path == "/embed.js" || strings.HasPrefix(path, "/in/") || strings.HasPrefix(path, "/assets/") ||
		slices.Contains(viewsOfASpace, path) ||
		slices.Contains(viewsOfNone, path)
}

// TestARouteWithoutAGateIsNotThere holds that a route which was registered past the gates answers nobody.
func TestARouteWithoutAGateIsNotThere(t *testing.T) {
	anwen, _, _ := world(t)
	anwen.server.router.GET("/api/forgotten-gate", anwen.server.ready)
	if answer := anwen.send("GET", "/api/forgotten-gate", nil); answer.Code != http.StatusNotFound {
		t.Errorf("it answers %d", answer.Code)
	}
}
