package server

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"copperlark/app"
	"copperlark/internal/organisation"
	"copperlark/internal/test/provider"
)

// TestASpaceKeepsAnOwner holds that the last owner neither leaves nor becomes something else, of two who go at once either.
func TestASpaceKeepsAnOwner(t *testing.T) {
	anwen, _, nobody := world(t)
	id := number(want[object](anwen, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 409, "POST", "/api/space/leave", nil)
	want[object](anwen, 409, "PATCH", fmt.Sprintf("/api/people/%d", id), object{"role": "reader"})
	want[object](anwen, 409, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
	anwen.space = number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id")
	for round := range 5 {
		other := nobody.come(fmt.Sprintf("owner%d", round), anwensSpace, app.Owner)
		other.space = anwen.space
		var both sync.WaitGroup
		var codes [2]int
		for i, who := range []*visitor{anwen, other} {
			both.Add(1)
			go func() { defer both.Done(); codes[i] = who.send("POST", "/api/space/leave", nil).Code }()
		}
		both.Wait()
		if slices.Sort(codes[:]); codes != [2]int{204, 409} {
			t.Fatalf("two owners leave at once: %v", codes)
		}
		if want[object](anwen, 200, "GET", "/api/me", nil)["role"] == "" {
			anwen = other
		}
	}
}

// TestWhoIsTakenOutLeavesWhatTheyMade holds that charts stay, and that the removal holds for the next request.
func TestWhoIsTakenOutLeavesWhatTheyMade(t *testing.T) {
	anwen, _, nobody := world(t)
	mab := nobody.come("mab", anwensSpace, app.Maker)
	dataset := mab.bring()
	want[object](mab, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"], "document": plotted("kg", "district", nil)})
	id := number(want[object](mab, 200, "GET", "/api/me", nil), "id")
	want[object](anwen, 204, "PATCH", fmt.Sprintf("/api/people/%d", id), object{"role": "reader"})
	want[object](mab, 403, "DELETE", fmt.Sprintf("/api/datasets/%d", number(dataset, "id")), nil)
	want[object](anwen, 204, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
	want[object](mab, 404, "GET", "/api/datasets", nil)
	if charts := want[[]object](anwen, 200, "GET", "/api/charts", nil); len(charts) != 1 {
		t.Errorf("%d charts stay", len(charts))
	}
	want[object](anwen, 404, "DELETE", fmt.Sprintf("/api/people/%d", id), nil)
}

// TestReadersAreNotToldAddresses searches what a reader is told of the people for what is the owners'.
func TestReadersAreNotToldAddresses(t *testing.T) {
	anwen, _, nobody := world(t)
	rhys := nobody.come("rhys", anwensSpace, app.Reader)
	if told := rhys.send("GET", "/api/people", nil).Body.String(); strings.Contains(told, "@") || !strings.Contains(told, `"role":"owner"`) {
		t.Errorf("a reader is told %s", told)
	}
	if told := anwen.send("GET", "/api/people", nil).Body.String(); !strings.Contains(told, "rhys@thornwick.example") {
		t.Errorf("an owner is told %s", told)
	}
}

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
type letters struct{ sent chan string }

func (l letters) Send(_ context.Context, to, _, text string) error {
	l.sent <- to + "\n" + text
	return nil
}

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

// TestTheAuditIsFilteredAndTaken holds its filters, and that its file cannot run in a spreadsheet.
func TestTheAuditIsFilteredAndTaken(t *testing.T) {
	anwen, _, nobody := world(t)
	nobody.come("=cmd", anwensSpace, app.Maker)
	look := func(query string) (did []string) {
		for _, entry := range want[auditPage](anwen, 200, "GET", "/api/audit?"+query, nil).Entries {
			did = append(did, entry["did"].(string))
		}
		return did
	}
	if did := look("about=people&who=CMD"); !slices.Equal(did, []string{"came in"}) {
		t.Errorf("of people: %q", did)
	}
	if did := look("about=signing+in&who=somebody"); !slices.Equal(did, []string{"signed in"}) {
		t.Errorf("of signing in: %q", did)
	}
	if did := look("to=2001-01-01T00:00:00Z"); len(did) != 0 {
		t.Errorf("of long ago: %q", did)
	}
	want[object](anwen, 422, "GET", "/api/audit?about=everything", nil)
	file := anwen.send("GET", "/api/audit.csv?about=people", nil).Body.String()
	if !strings.HasPrefix(file, "when,who,did,what,from\n") || !strings.Contains(file, ",'=cmd,came in,") {
		t.Errorf("the file is %s", file)
	}
	anwen.app.Reach(app.Outside{AuditTime: time.Microsecond})
	if err := anwen.app.Tidy(t.Context()); err != nil || len(look("")) != 0 {
		t.Errorf("entries that are too old stay: %v", err)
	}
}

// TestASpaceLeavesInAWeek holds that deleting waits, can be taken back, and then takes everything.
func TestASpaceLeavesInAWeek(t *testing.T) {
	anwen, bram, _ := world(t)
	anwen.bring()
	change := func(leaves bool) { want[object](anwen, 204, "PATCH", "/api/space", object{"leaves": leaves}) }
	change(true)
	at, err := time.Parse(time.RFC3339, fmt.Sprint(want[object](anwen, 200, "GET", "/api/me", nil)["leaves_at"]))
	if wait := time.Until(at); err != nil || wait < 6*24*time.Hour || wait > 8*24*time.Hour {
		t.Errorf("it leaves in %v, %v", wait, err)
	}
	change(false)
	if said := want[object](anwen, 200, "GET", "/api/me", nil); said["leaves_at"] != nil {
		t.Errorf("it was kept, and leaves %v", said["leaves_at"])
	}
	change(true)
	if err := anwen.app.Tidy(t.Context()); err != nil || len(want[[]object](anwen, 200, "GET", "/api/datasets", nil)) != 1 {
		t.Errorf("it left before its time: %v", err)
	}
	past := time.Now().Add(-time.Minute)
	id := number(want[object](anwen, 200, "GET", "/api/me", nil), "space_id")
	if err := anwen.kept.ChangeSpace(t.Context(), id, app.SpaceChange{LeavesAt: &past}); err != nil {
		t.Fatal(err)
	}
	if err := anwen.app.Tidy(t.Context()); err != nil {
		t.Fatal(err)
	}
	want[object](anwen, 404, "GET", "/api/datasets", nil)
	want[[]object](bram, 200, "GET", "/api/datasets", nil)
}

// TestASpaceIsTakenAndBrought takes a space out and brings it to somebody else: figures and trails are the same, and what is of
// the server it came from stands in no byte.
func TestASpaceIsTakenAndBrought(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	want[object](
		anwen,
		204,
		"PUT",
		fmt.Sprintf("/api/datasets/%d/meanings", number(dataset, "id")),
		object{"column": "kg", "label": "Honey", "unit": "kg"},
	)
	prepared := want[object](
		anwen,
		200,
		"POST",
		fmt.Sprintf("/api/versions/%d/prepared", number(dataset, "version_id")),
		object{"typed": "keep kg > 2"},
	)
	chart := want[object](
		anwen,
		200,
		"POST",
		"/api/charts",
		object{"version_id": prepared["id"], "document": plotted("kg", "district", nil), "name": "Kept"},
	)
	want[object](anwen, 200, "POST", fmt.Sprintf("/api/charts/%d/steps", number(chart, "id")),
		object{"parent_id": chart["head_step_id"], "document": plotted("kg", "district", object{"size": "kg"})})
	want[object](
		anwen,
		200,
		"POST",
		"/api/shares",
		object{"version_id": prepared["id"], "document": plotted("kg", "district", nil), "title": "A planted title"},
	)
	file := anwen.send("GET", "/api/space/file", nil)
	for _, planted := range []string{"Somebody", "argon2", "A planted title"} {
		if strings.Contains(unzipped(t, file.Body.Bytes()), planted) {
			t.Errorf("the file holds %q", planted)
		}
	}
	brought := want[object](bram, 200, "POST", "/api/spaces/file", file.Body.String())
	bram.space = number(brought, "id")
	if brought["name"] != anwensSpace || brought["role"] != "owner" {
		t.Errorf("brought: %v", brought)
	}
	of := func(v *visitor) (figure string, words []any) {
		kept := want[[]object](v, 200, "GET", "/api/charts", nil)[0]
		whole := want[object](v, 200, "GET", fmt.Sprintf("/api/charts/%d", number(kept, "id")), nil)
		for _, step := range whole["steps"].([]any) {
			words = append(words, step.(map[string]any)["words"])
		}
		drawn := v.send(
			"POST",
			fmt.Sprintf("/api/versions/%d/drawing", number(kept, "version_id")),
			object{"document": kept["document"], "format": "svg"},
		)
		return drawn.Body.String(), append(words, kept["name"], kept["named"])
	}
	here, trail := of(anwen)
	there, brang := of(bram)
	if here != there || !strings.Contains(here, "Honey") || !slices.Equal(trail, brang) || len(trail) != 4 {
		t.Errorf("the chart came otherwise: %v, %v, %d and %d letters", trail, brang, len(here), len(there))
	}
	versions := want[[]object](
		bram,
		200,
		"GET",
		fmt.Sprintf("/api/datasets/%d/versions", number(want[[]object](bram, 200, "GET", "/api/datasets", nil)[0], "id")),
		nil,
	)
	if len(versions) != 2 || number(versions[0], "prepared_from") != number(versions[1], "id") {
		t.Errorf("versions: %v", versions)
	}
}

func unzipped(t *testing.T, file []byte) string {
	t.Helper()
	in, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		t.Fatal(err)
	}
	var all strings.Builder
	for _, one := range in.File {
		content, err := one.Open()
		if err != nil {
			t.Fatal(err)
		}
		if _, err := io.Copy(&all, content); err != nil {
			t.Fatal(err)
		}
	}
	return all.String()
}

// TestASpaceThatIsNone brings what is no space, or one that lies: each is refused in words, and leaves nothing behind.
func TestASpaceThatIsNone(t *testing.T) {
	anwen, bram, _ := world(t)
	dataset := anwen.bring()
	want[object](anwen, 200, "POST", "/api/charts", object{"version_id": dataset["version_id"], "document": plotted("kg", "district", nil)})
	good := anwen.send("GET", "/api/space/file", nil).Body.Bytes()
	replaced := func(name string, change func(string) string) string {
		in, _ := zip.NewReader(bytes.NewReader(good), int64(len(good)))
		var file bytes.Buffer
		out := zip.NewWriter(&file)
		for _, one := range in.File {
			content, _ := one.Open()
			text, _ := io.ReadAll(content)
			if one.Name == name || name == "columns" && strings.HasPrefix(one.Name, name) {
				text = []byte(change(string(text)))
			}
			to, _ := out.Create(one.Name)
			_, _ = to.Write(text)
		}
		_ = out.Close()
		return file.String()
	}
	swap := func(from, to string) func(string) string {
		return func(text string) string {
			if !strings.Contains(text, from) {
				t.Errorf("%q does not stand in the file", from)
			}
			return strings.ReplaceAll(text, from, to)
		}
	}
	empty := func(string) string { return "" }
	for name, file := range map[string]string{
		"nothing":             "",
		"a table":             oddFile,
		"another format":      replaced("space.json", swap("copper-lark-space", "something")),
		"a newer program":     replaced("space.json", swap(`"version":1`, `"version":99`)),
		"no name":             replaced("space.json", swap(anwensSpace, "")),
		"broken lists":        replaced("datasets.json", func(text string) string { return text[:len(text)/2] }),
		"no versions":         replaced("datasets.json", swap(`"versions":[{`, `"versions":[],"v":[{`)),
		"more rows":           replaced("datasets.json", swap(`"rows":4`, `"rows":5`)),
		"too many rows":       replaced("datasets.json", swap(`"rows":4`, `"rows":2000000000`)),
		"a kind there is not": replaced("datasets.json", swap(`"kind":"category"`, `"kind":"mood"`)),
		"numbers as groups":   replaced("datasets.json", swap(`"kind":"number"`, `"kind":"category"`)),
		"a chart of nothing":  replaced("charts.json", swap(`"version_id":`, `"version_id":9`)),
		"a broken trail":      replaced("charts.json", swap(`"words":`, `"parent":77,"words":`)),
		"no columns":          replaced("columns", empty),
		"columns of noise":    replaced("columns", func(string) string { return "noise" }),
	} {
		answer := bram.send("POST", "/api/spaces/file", file)
		if answer.Code != 422 || !strings.Contains(answer.Body.String(), "no space that this program can read") {
			t.Errorf("%s: %d %s", name, answer.Code, answer.Body)
		}
	}
	if places := want[object](bram, 200, "GET", "/api/me", nil)["spaces"].([]any); len(places) != 1 {
		t.Errorf("bram is in %d spaces", len(places))
	}
}
