package server

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"copperlark/app"
	"copperlark/internal/organisation"
	"copperlark/internal/test/databases"
	"copperlark/internal/test/provider"
	"copperlark/store"
)

// TestWhoseAccountAnOwnerCannotOpen holds that an owner makes no link to a password of somebody who is elsewhere too.
func TestWhoseAccountAnOwnerCannotOpen(t *testing.T) {
	anwen, bram, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	id := number(want[object](mab, 200, "GET", "/api/me", nil), "id")
	link := want[object](anwen, 200, "POST", fmt.Sprintf("/api/people/%d/password-link", id), nil)["path"].(string)
	nobody.come("mab", "bram@thornwick.example's space", app.Reader)
	want[object](anwen, 422, "POST", fmt.Sprintf("/api/people/%d/password-link", id), nil)
	want[object](bram, 422, "POST", fmt.Sprintf("/api/people/%d/password-link", id), nil)
	link = strings.TrimPrefix(link, "/password/")
	want[object](nobody, 422, "POST", "/api/new-password", object{"link": link, "password": "short"})
	want[object](nobody, 204, "POST", "/api/new-password", object{"link": link, "password": "five heavy combs"})
	want[object](nobody, 401, "POST", "/api/new-password", object{"link": link, "password": "six heavy combs more"})
	want[object](mab, 401, "GET", "/api/me", nil) // signed out
}

// TestNoInvitationFindsOutAccounts holds that an address that is known is refused without a word of why, and that what an
// invitation is for is not used up by it.
func TestNoInvitationFindsOutAccounts(t *testing.T) {
	anwen, bram, nobody := world(t)
	invite := func(uses int) string {
		return want[object](anwen, 200, "POST", "/api/invitations", object{"role": "reader", "uses": uses, "days": 1})["key"].(string)
	}
	key := invite(1)
	taken := nobody.send(
		"POST",
		"/api/invited/"+key+"/anew",
		object{"name": "B", "email": "bram@thornwick.example", "password": "seven quiet hedges"},
	)
	if taken.Code != 409 || strings.Contains(taken.Body.String(), "exist") || strings.Contains(taken.Body.String(), "known") {
		t.Errorf("a known address: %d %s", taken.Code, taken.Body)
	}
	want[object](bram, 200, "POST", "/api/invited/"+key, nil)
	want[object](bram, 410, "POST", "/api/invited/"+key, nil)
	key = invite(2)
	want[object](bram, 200, "POST", "/api/invited/"+key, nil) // who is in already uses nothing up
	joined := nobody.send(
		"POST",
		"/api/invited/"+key+"/anew",
		object{"name": "New", "email": "new@thornwick.example", "password": "seven quiet hedges"},
	)
	if joined.Code != 200 || len(joined.Result().Cookies()) != 1 {
		t.Errorf("somebody new: %d %s", joined.Code, joined.Body)
	}
	if waits := want[[]object](anwen, 200, "GET", "/api/invitations", nil); len(waits) != 1 || number(waits[0], "uses") != 1 {
		t.Errorf("invitations that wait: %v", waits)
	}
}

// letters is a post that keeps what it is given.
// TestForgottenSaysNothing holds that asking for a link is answered alike for those who are known and for those who are not.
func TestForgottenSaysNothing(t *testing.T) {
	_, _, nobody := world(t)
	want[object](nobody, 422, "POST", "/api/forgotten", object{"email": "anwen@thornwick.example"})
	post := letters{make(chan string, 2)}
	nobody.app.Reach(app.Outside{Post: post, Address: "https://lark.example"})
	want[object](nobody, 204, "POST", "/api/forgotten", object{"email": "stranger@thornwick.example"})
	want[object](nobody, 204, "POST", "/api/forgotten", object{"email": " Anwen@thornwick.example"})
	select {
	case letter := <-post.sent:
		to, text, _ := strings.Cut(letter, "\n")
		_, link, _ := strings.Cut(text, "https://lark.example/password/")
		link, _, _ = strings.Cut(link, "\n")
		if to != "anwen@thornwick.example" {
			t.Errorf("the letter goes to %s", to)
		}
		want[object](nobody, 204, "POST", "/api/new-password", object{"link": link, "password": "eight quiet hedges"})
	case <-time.After(5 * time.Second):
		t.Error("no letter was sent")
	}
	if len(post.sent) > 0 {
		t.Error("a stranger was sent a letter")
	}
}

// TestPasswords holds which are refused, and that what a person can remember is taken.
func TestPasswords(t *testing.T) {
	anwen, _, _ := world(t)
	old := "correct horse"
	for _, one := range []struct {
		password string
		fits     bool
	}{{"elevenchars", false}, {"twelve chars", true}, {"passwordpassword", false}, {"aaaaaaaaaaaaaa", false}, {"1234567890123456", false},
		{"abcabcabcabc", false}, {"qwertyuiop12345", false}, {"anwen@thornwick.example", false},
		{"三本の静かな生垣が丘にある", true},
		{"pass word of four", true}, {strings.Repeat("long ", 101), false}} {
		status := 204
		if !one.fits {
			status = 422
		}
		answer := anwen.send("PUT", "/api/me/password", object{"old": old, "new": one.password})
		if answer.Code != status {
			t.Errorf("%q: %d %s", one.password, answer.Code, answer.Body)
		} else if one.fits {
			old = one.password
		}
	}
	want[object](anwen, 422, "PUT", "/api/me/password", object{"old": "guess", "new": "nine quiet hedges"})
}

// TestTheOrganisationIsNotBelievedBlindly signs somebody in through a provider that tells the truth, and through one that lies.
func TestTheOrganisationIsNotBelievedBlindly(t *testing.T) {
	anwen, _, nobody := world(t)
	stand, err := provider.New()
	if err != nil {
		t.Fatal(err)
	}
	at := httptest.NewServer(stand)
	t.Cleanup(at.Close)
	stand.Address = at.URL
	known, err := organisation.New(organisation.Settings{Issuer: at.URL, Client: "lark"})
	if err != nil {
		t.Fatal(err)
	}
	settling := app.Settling{Space: anwensSpace, Role: app.Reader, Domains: []string{"thornwick.example"},
		Groups: map[string]app.Role{"keepers": app.Maker, "heads": app.Owner}}
	nobody.app.Reach(app.Outside{Organisation: known, Settling: settling})
	roles := func() map[string]any {
		roles := map[string]any{}
		for _, one := range want[[]object](anwen, 200, "GET", "/api/people", nil) {
			roles[one["email"].(string)] = one["role"]
		}
		return roles
	}
	good := func(email string, more object) object {
		claims := object{"sub": email, "email": email, "email_verified": true, "name": "Carys"}
		for name, value := range more {
			claims[name] = value
		}
		return claims
	}
	for _, one := range []struct {
		name   string
		claims object
		twist  func(back *url.URL)
		in     bool
		role   any
	}{
		{"somebody new", good("carys@thornwick.example", nil), nil, true, "reader"},
		{"a group", good("dai@thornwick.example", object{"groups": []string{"others", "keepers"}}), nil, true, "maker"},
		{"the highest of groups", good("dai@thornwick.example", object{"groups": []string{"keepers", "heads"}}), nil, true, "owner"},
		{"no group any more", good("carys@thornwick.example", object{"groups": []string{}}), nil, true, "reader"},
		{"somebody who is known by the address", good("anwen@thornwick.example", nil), nil, true, "owner"},
		{"an address that is not looked at", good("eve@thornwick.example", object{"email_verified": false}), nil, false, nil},
		{"another domain", good("eve@elsewhere.example", nil), nil, false, nil},
		{"no address", good("", nil), nil, false, nil},
		{"another client", good("eve@thornwick.example", object{"aud": "other"}), nil, false, nil},
		{"another issuer", good("eve@thornwick.example", object{"iss": "https://evil.example"}), nil, false, nil},
		{"too old", good("eve@thornwick.example", object{"exp": 1000}), nil, false, nil},
		{"another sign-in", good("eve@thornwick.example", object{"nonce": "x"}), nil, false, nil},
		{"another state", good("eve@thornwick.example", nil), func(back *url.URL) {
			back.RawQuery = "state=x&code=" + back.Query().Get("code")
		}, false, nil},
		{"no code", good("eve@thornwick.example", nil), func(back *url.URL) { back.RawQuery = "state=" + back.Query().Get("state") }, false, nil},
	} {
		stand.Say(one.claims)
		answer := nobody.throughOrganisation(one.twist)
		email, _ := one.claims["email"].(string)
		signed := slices.ContainsFunc(answer.Result().Cookies(), func(c *http.Cookie) bool { return c.Name == sessionCookie && c.Value != "" })
		if signed != one.in || roles()[email] != one.role {
			t.Errorf("%s: %d, role %v: %s", one.name, answer.Code, roles()[email], answer.Body)
		}
		if one.in && answer.Header().Get("Location") != "/build" {
			t.Errorf("%s: goes on at %q", one.name, answer.Header().Get("Location"))
		}
	}
	for _, back := range []string{"//evil.example", "https://evil.example", "/\\evil.example", ""} {
		stand.Say(good("carys@thornwick.example", nil))
		if to := nobody.throughOrganisation(nil, back).Header().Get("Location"); to != "/" {
			t.Errorf("back to %q leads to %q", back, to)
		}
	}
	want[object](nobody, 401, "GET", "/api/me", nil)
}

// throughOrganisation goes the way of a browser: to the provider and back, with a twist on the way back.
func (v *visitor) throughOrganisation(twist func(*url.URL), back ...string) *httptest.ResponseRecorder {
	v.t.Helper()
	to := httptest.NewRecorder()
	v.handler.ServeHTTP(to, httptest.NewRequest("GET", "/organisation?back="+url.QueryEscape(append(back, "/build")[0]), nil))
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	sent, err := client.Get(to.Header().Get("Location"))
	if err != nil {
		v.t.Fatal(err)
	}
	_ = sent.Body.Close()
	way, err := url.Parse(sent.Header.Get("Location"))
	if err != nil {
		v.t.Fatal(err)
	}
	if twist != nil {
		twist(way)
	}
	come := httptest.NewRequest("GET", way.RequestURI(), nil)
	for _, cookie := range to.Result().Cookies() {
		come.AddCookie(cookie)
	}
	answer := httptest.NewRecorder()
	v.handler.ServeHTTP(answer, come)
	again := httptest.NewRecorder() // the same way once more leads nowhere
	v.handler.ServeHTTP(again, come)
	if again.Code == http.StatusSeeOther {
		v.t.Error("an answer of the organisation was taken twice")
	}
	return answer
}

// TestPasskeysThatAreNone holds that what no device signed is refused, and a ceremony used once.
func TestPasskeysThatAreNone(t *testing.T) {
	anwen, _, nobody := world(t)
	begun := want[object](nobody, 200, "POST", "/api/sign-in/passkey/begin", nil)
	for range 2 {
		want[object](
			nobody,
			401,
			"POST",
			"/api/sign-in/passkey",
			object{"token": begun["token"], "credential": object{"id": "x", "type": "public-key"}},
		)
	}
	want[object](anwen, 422, "POST", "/api/me/passkeys/begin", object{"password": "guess"})
	making := want[object](anwen, 200, "POST", "/api/me/passkeys/begin", object{"password": "correct horse"})
	want[object](anwen, 401, "POST", "/api/me/passkeys", object{"token": making["token"], "credential": "no object"})
}

// TestTheFirstStart makes the first owner by the link that is printed: once, and only while there is nobody.
func TestTheFirstStart(t *testing.T) {
	kept, err := store.Open(t.Context(), databases.Prepared(t, migrated))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(kept.Close)
	nobody := serverOver(t, kept, limitsOf(0, 0, 0), Config{})
	link, err := nobody.app.FirstLink(t.Context())
	if err != nil || link == "" {
		t.Fatalf("the link is %q, %v", link, err)
	}
	second, _ := nobody.app.FirstLink(t.Context()) // of a program that was started again
	with := func(link string, more object) object {
		said := object{
			"link":     link,
			"email":    "anwen@thornwick.example",
			"name":     "Anwen Tarrow",
			"password": "one quiet hedge",
			"space":    "Thornwick",
		}
		for name, value := range more {
			said[name] = value
		}
		return said
	}
	want[object](nobody, 422, "POST", "/api/first", with(link, object{"password": "short"}))
	want[object](nobody, 422, "POST", "/api/first", with(link, object{"space": " "}))
	want[object](nobody, 401, "POST", "/api/first", with("guess", nil))
	answer := nobody.send("POST", "/api/first", with(link, nil))
	if answer.Code != 204 || len(answer.Result().Cookies()) != 1 {
		t.Fatalf("the first owner: %d %s", answer.Code, answer.Body)
	}
	anwen := *nobody
	anwen.cookie = answer.Result().Cookies()[0].Value
	if me := want[object](&anwen, 200, "GET", "/api/me", nil); me["role"] != "owner" || me["space"] != "Thornwick" {
		t.Errorf("the first owner is %v", me)
	}
	for _, link := range []string{link, second} {
		want[object](nobody, 401, "POST", "/api/first", with(link, object{"email": "eve@thornwick.example"}))
	}
	if third, err := nobody.app.FirstLink(t.Context()); err != nil || third != "" {
		t.Errorf("there are people, and a link %q, %v", third, err)
	}
}

// TestSessionsAreEndedOneByOne holds that each is listed with its device, and that one that was ended ends nothing else.
func TestSessionsAreEndedOneByOne(t *testing.T) {
	anwen, bram, _ := world(t)
	phone := anwen.signIn("anwen@thornwick.example")
	list := want[[]app.Session](anwen, 200, "GET", "/api/me/sessions", nil)
	if len(list) != 2 || list[0].This == list[1].This || list[0].Address != "192.0.2.1" {
		t.Fatalf("sessions: %+v", list)
	}
	for _, session := range list {
		want[object](bram, 404, "DELETE", fmt.Sprintf("/api/me/sessions/%d", session.ID), nil)
		if !session.This {
			want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/me/sessions/%d", session.ID), nil)
		}
	}
	want[object](phone, 401, "GET", "/api/me", nil)
	want[object](anwen, 200, "GET", "/api/me", nil)
	for agent, words := range map[string]string{"Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0": "Firefox on Linux",
		"Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Version/18.0 Safari/604.1": "Safari on iPhone", "": "an unknown device",
		"Mozilla/5.0 (Windows NT 10.0) Chrome/140.0 Safari/537.36 Edg/140.0": "Edge on Windows", "curl/8.0": "curl"} {
		if got := device(agent); got != words {
			t.Errorf("%q is %s", agent, got)
		}
	}
}
