package server

import (
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/render"
	english "copperlark/core/words"
)

// routes is every route, with who may ask it (see gate.go): anyone; themselves, who are signed in, of what is their own;
// readers, makers, owners of the space that is asked about. What belongs to another space is not there. Routes for anyone
// say why they are open.
func (s *Server) routes() {
	s.ofSigningIn()
	s.ofPeople()
	s.ofData()
	s.ofCharts()
	s.ofStories()
	s.ofNotes()
	s.ofUsingAgain()
	s.ofScripts()
	s.ofReaders()
	s.ofPages()
	s.describeAll()
}

// ofSigningIn are the routes of how somebody comes in, and of what is theirs alone.
func (s *Server) ofSigningIn() {
	s.about = "signing in"
	add(s, anyone, http.MethodGet, "/api/ways", "How people can sign in here", s.ways)   // the page of signing in shows it
	add(s, anyone, http.MethodPost, "/api/sign-in", "Sign in with a password", s.signIn) // how a session begins
	add(s, themselves, http.MethodPost, "/api/sign-out", "End the session", s.signOut)
	add(s, anyone, http.MethodPost, "/api/sign-in/passkey/begin", "Begin to sign in with a passkey", s.beginPasskeySignIn)
	add(s, anyone, http.MethodPost, "/api/sign-in/passkey", "Sign in with what a passkey signed", s.passkeySignIn)
	// Who forgot a password cannot sign in; the answer does not say whether there is such a person.
	add(s, anyone, http.MethodPost, "/api/forgotten", "Ask for a link to a new password by e-mail", s.forgotten)
	add(s, anyone, http.MethodPost, "/api/new-password", "Turn a link to a new password into that password", s.newPassword)
	add(s, anyone, http.MethodPost, "/api/first", "Make the first owner, with the link that the program printed", s.first)
	// An invitation carries its own proof.
	add(s, anyone, http.MethodGet, "/api/invited/{key}", "What an invitation is to", s.invited)
	add(s, anyone, http.MethodPost, "/api/invited/{key}/anew", "Use an invitation as somebody new", s.joinAnew)
	add(s, themselves, http.MethodPost, "/api/invited/{key}", "Use an invitation", s.join)

	add(s, themselves, http.MethodGet, "/api/me", "Who is signed in, and their spaces", s.me)
	add(s, themselves, http.MethodPatch, "/api/me", "Change one's name, or whether one is written to about notes", s.changeMe)
	add(s, themselves, http.MethodPut, "/api/me/password", "Change one's password; other sessions end", s.changePassword)
	add(s, themselves, http.MethodGet, "/api/me/sessions", "Where one is signed in", s.sessions)
	add(s, themselves, http.MethodDelete, "/api/me/sessions/{id}", "Sign out somewhere", s.endSession)
	add(s, themselves, http.MethodGet, "/api/me/factor", "One's second factor and passkeys", s.factor)
	add(s, themselves, http.MethodPost, "/api/me/factor", "Begin to set up a second factor", s.beginFactor)
	add(s, themselves, http.MethodPost, "/api/me/factor/confirm", "Set it up, by a code of it; gives the recovery codes", s.confirmFactor)
	add(s, themselves, http.MethodPost, "/api/me/factor/show", "Show the second factor in a session that began without", s.showFactor)
	add(s, themselves, http.MethodPost, "/api/me/factor/drop", "Take the second factor away", s.dropFactor)
	add(s, themselves, http.MethodPost, "/api/me/passkeys/begin", "Begin to make a passkey", s.beginPasskey)
	add(s, themselves, http.MethodPost, "/api/me/passkeys", "Keep the passkey that was made", s.addPasskey)
	add(s, themselves, http.MethodPost, "/api/me/passkeys/drop", "Take a passkey away", s.dropPasskey)
	add(s, themselves, http.MethodPost, "/api/spaces", "Make a space", s.addSpace)
	s.raw(themselves, route{http.MethodPost, "/api/spaces/file", "Make a space of the file that a whole space was taken out as",
		jsonOf[Space](s, "Space"), nil}, s.importSpace)
	// The organisation sends people back here.
	s.raw(anyone, route{http.MethodGet, "/organisation", "Sign in through the organisation", page, nil}, s.toOrganisation)
	s.raw(anyone, route{http.MethodGet, "/organisation/back", "Come back from the organisation", page, nil}, s.fromOrganisation)
	// A sign-in link carries its own proof, and works once.
	s.raw(anyone, route{http.MethodGet, "/sign-in/{link}", "Ask whoever opens a sign-in link to press a button", page, nil}, s.linkPage)
	s.raw(anyone, route{http.MethodPost, "/sign-in/{link}", "Sign in with a link", page, nil}, s.useLink)
}

// ofPeople are the routes of a space and its people.
func (s *Server) ofPeople() {
	s.about = "people"
	add(s, readers, http.MethodGet, "/api/people", "Who is in the space; owners are told how they sign in", s.people)
	add(s, readers, http.MethodPost, "/api/space/leave", "Leave the space", s.leave)
	add(s, owners, http.MethodPatch, "/api/people/{id}", "Give somebody another role", s.setRole)
	add(s, owners, http.MethodDelete, "/api/people/{id}", "Take somebody out of the space", s.takeOut)
	add(s, owners, http.MethodPost, "/api/people/{id}/password-link", "Make a link that leads somebody to a new password", s.passwordLink)
	add(s, owners, http.MethodGet, "/api/invitations", "Invitations that can still be used", s.invitations)
	add(s, owners, http.MethodPost, "/api/invitations", "Invite", s.invite)
	add(s, owners, http.MethodDelete, "/api/invitations/{id}", "Take an invitation back", s.takeBack)
	add(s, owners, http.MethodPatch, "/api/space", "Rename the space, ask for a second factor, or delete it in a week", s.changeSpace)
	add(s, owners, http.MethodGet, "/api/hooks", "Addresses of other programs that are told of new versions", s.hooks)
	add(s, owners, http.MethodPost, "/api/hooks", "Name one; the secret that calls are signed with is in this answer alone", s.addHook)
	add(s, owners, http.MethodDelete, "/api/hooks/{id}", "Take one back, with the calls that wait", s.dropHook)
	add(s, owners, http.MethodGet, "/api/hooks/calls", "The last calls, with what came of them", s.hookLog)
	add(s, readers, http.MethodGet, "/api/keys", "The keys of scripts: all for owners, else one's own", s.keysOf)
	add(s, readers, http.MethodPost, "/api/keys", "Make a key; its token is in this answer alone", s.addKey)
	add(s, readers, http.MethodDelete, "/api/keys/{id}", "Take a key back, at once", s.dropKey)
	add(s, owners, http.MethodGet, "/api/audit", "Who did what in the space", s.audit)
	s.raw(owners, route{http.MethodGet, "/api/audit.csv", "The same as a file", types("text/csv"), auditParameters()}, s.auditFile)
	s.raw(owners, route{http.MethodGet, "/api/space/file", "The whole space as one file, for another server", types("application/zip"), nil},
		s.exportSpace)
}

// ofData are the routes of files, datasets, versions and what is found out about them.
func (s *Server) ofData() {
	s.about = "data"
	add(s, makers, http.MethodPut, "/api/uploads/{key}", "Read a waiting file again with other options", s.readAgain)
	add(s, makers, http.MethodPost, "/api/uploads/{key}/keep", "Keep a waiting file as a dataset", s.keep)
	add(s, makers, http.MethodDelete, "/api/uploads/{key}", "Discard a waiting file", s.discard)
	s.raw(makers, route{http.MethodPost, "/api/uploads", "Read a file for a preview", jsonOf[app.Preview](s, "Preview"),
		[]*huma.Param{inQuery("name", "the file's name")}}, s.upload)

	add(s, readers, http.MethodGet, "/api/datasets", "List datasets", s.datasets)
	add(s, readers, http.MethodGet, "/api/datasets/{id}", "A dataset with its columns", s.dataset)
	add(s, makers, http.MethodPost, "/api/datasets", "Make a dataset from nothing", s.make)
	add(s, readers, http.MethodGet, "/api/style", "How charts of the space look from their beginning on", s.style)
	add(s, makers, http.MethodPut, "/api/style", "Make what a chart says of its looks the style of the space", s.setStyle)
	add(s, readers, http.MethodGet, "/api/versions/{version}/sayable",
		"Everything that can be said of a chart, with examples of its columns", s.sayable)
	add(s, readers, http.MethodGet, "/api/examples", "Sentences that show what can be said", s.examples)
	add(
		s,
		readers,
		http.MethodPost,
		"/api/built",
		"The picture of a table that somebody builds to learn from, with what could explain its slope",
		s.build,
	)
	s.answersBytes("/api/built", figureType)
	add(s, makers, http.MethodPatch, "/api/datasets/{id}", "Rename or describe a dataset", s.describe)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/meanings", "What people know of the columns", s.meanings)
	add(s, makers, http.MethodPut, "/api/datasets/{id}/meanings", "Say what a column means", s.setMeaning)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/meanings/file", "Read meanings from a table of two columns", s.importMeanings)
	add(s, readers, http.MethodGet, "/api/language", "What expressions and clauses can say", s.language)
	add(s, makers, http.MethodDelete, "/api/datasets/{id}", "Delete a dataset with its charts", s.dropDataset)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/versions", "A dataset's versions, the newest first", s.versions)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/draft", "What a person tries with a dataset and has not kept", s.draft)
	add(
		s,
		makers,
		http.MethodPut,
		"/api/datasets/{id}/draft",
		"Keep what a person tries, until it is kept as a version or dropped",
		s.keepDraft,
	)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/files/{key}", "What another file would change of a dataset", s.compareFile)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/files/{key}/keep",
		"Keep another file as a dataset's next version, prepared as the last one was", s.keepFile)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/files/{key}/added",
		"Add the rows of another file to a dataset, as its next version, or tell what would become of it", s.addRows)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/moved",
		"What a version makes of charts that stand over others of its dataset, some at a time", s.moved)
	add(s, makers, http.MethodGet, "/api/datasets/{id}/files/{key}/moved", "The same of another file, before it is kept", s.movedByFile)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/one-row", "What one row of a dataset could be called", s.oneRow)
	add(s, makers, http.MethodGet, "/api/origins", "Where files may come from again, as whoever runs the server said", s.originPlaces)
	add(s, makers, http.MethodGet, "/api/sources", "Databases whose tables stay there, as whoever runs the server named them", s.sources)
	add(s, makers, http.MethodPost, "/api/sources/rows", "Take rows of a table that stays elsewhere; they wait to be kept", s.drawRows)
	add(s, makers, http.MethodPost, "/api/sources/charts", "Chart a table where it is: a sample of it becomes a dataset, or is found",
		s.chartStaying)
	add(s, makers, http.MethodPost, "/api/versions/{version}/whole",
		"Ask all rows of the table that a version is a sample of what a chart needs", s.askWhole)
	add(s, makers, http.MethodPost, "/api/versions/{version}/under",
		"The rows of a table that stays elsewhere which lie in a part of a chart of it", s.rowsUnder)
	add(s, makers, http.MethodGet, "/api/versions/{version}/whole", "What was asked of all rows", s.answers)
	add(s, makers, http.MethodDelete, "/api/versions/{version}/whole", "Forget what was answered, so that it is asked anew", s.dropAnswers)
	add(s, readers, http.MethodGet, "/api/datasets/{id}/origin",
		"Where a dataset's file comes from again, and what came of asking", s.originOf)
	add(s, makers, http.MethodPut, "/api/datasets/{id}/origin",
		"Say where a dataset's file comes from, and how often it is asked", s.setOrigin)
	add(s, makers, http.MethodDelete, "/api/datasets/{id}/origin", "Forget where a dataset's file comes from; its versions stay", s.dropOrigin)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/origin/asked", "Ask a dataset's origin now", s.askOrigin)
	add(s, makers, http.MethodPost, "/api/datasets/{id}/edited", "Keep changes made by hand as a dataset's next version", s.edit)
	add(s, readers, http.MethodPost, "/api/versions/{version}/preparation", "Try a preparation on a version", s.prepare)
	add(s, readers, http.MethodPost, "/api/versions/{version}/preparation/completions", "What could be typed next in a preparation",
		s.completePreparation)
	add(s, makers, http.MethodPost, "/api/versions/{version}/prepared", "Keep a preparation as the next version", s.keepPreparation)
	add(s, readers, http.MethodPost, "/api/versions/{version}/view", "Rows of a version after a preparation, as text", s.view)
	add(s, readers, http.MethodGet, "/api/versions/{version}/rows/{row}", "The exact values of one row", s.row)
	add(s, readers, http.MethodPost, "/api/versions/{version}/numbers", "The numbers of some columns in some rows", s.numbers)
	add(s, readers, http.MethodGet, "/api/versions/{version}/goes-with/{column}", "How much of a column's spread the others account for",
		s.goesWith)
	add(s, readers, http.MethodGet, "/api/versions/{version}/first-look", "A first sentence for the dataset", s.firstLook)
	add(s, readers, http.MethodPost, "/api/versions/{version}/summary", "Every column in numbers", s.summary)
	add(s, readers, http.MethodPost, "/api/versions/{version}/groups", "Every group of a column with its rows", s.groups)
	add(
		s,
		readers,
		http.MethodPost,
		"/api/versions/{version}/explanations",
		"What else could explain the relation on screen",
		s.explanations,
	)
	add(s, readers, http.MethodPost, "/api/versions/{version}/holds", "Whether the slope on screen holds, looked at in many ways", s.holds)
	add(s, readers, http.MethodPost, "/api/versions/{version}/with-and-without", "The line with some of the rows, and without them",
		s.withAndWithout)
	add(s, readers, http.MethodPost, "/api/versions/{version}/pairs", "Columns of numbers two at a time", s.pairs)
	s.answersBytes("/api/versions/{version}/pairs", figureType)
	add(s, readers, http.MethodPost, "/api/versions/{version}/evidence", "What stands behind the finding of a column", s.evidence)
	add(s, readers, http.MethodPost, "/api/versions/{version}/figure", "Draw a chart without keeping it", s.figure)
	s.answersBytes("/api/versions/{version}/figure", figureType)
	add(
		s,
		readers,
		http.MethodPost,
		"/api/versions/{version}/drawing",
		"Draw a chart into a file: "+english.Or(render.FormatNames()),
		s.drawing,
	)
	s.answersBytes("/api/versions/{version}/drawing", drawingTypes()...)
	add(s, readers, http.MethodPost, "/api/versions/{version}/choices", "What pressing a word of a chart's sentence offers", s.choices)
	add(s, readers, http.MethodPost, "/api/versions/{version}/additions", "What can be said next in a chart's sentence", s.additions)
	add(
		s,
		readers,
		http.MethodPost,
		"/api/versions/{version}/completions",
		"What could be typed next in the sentence of a chart",
		s.complete,
	)

	s.raw(makers, route{http.MethodGet, "/api/versions/{version}/table/{form}", "Download the rows of a version: csv, jsonl or parquet",
		tableTypes(), nil}, s.export)
	add(s, readers, http.MethodGet, "/api/work", "What the heavy work of whoever asks does: what runs, and what waits", s.work)
}

// ofCharts are the routes of charts, their trails, and what is shared of them.
func (s *Server) ofCharts() {
	s.about = "charts"
	add(s, readers, http.MethodGet, "/api/charts", "List charts", s.charts)
	add(s, readers, http.MethodGet, "/api/found/charts", "Charts that are looked for, some at a time, without what they say", s.foundCharts)
	add(s, makers, http.MethodPost, "/api/charts/{id}/copy", "Make a chart that says what another does", s.copyChart)
	add(s, makers, http.MethodPost, "/api/charts", "Keep a new chart", s.addChart)
	add(s, readers, http.MethodGet, "/api/charts/{id}", "A chart with its trail", s.chart)
	add(
		s,
		makers,
		http.MethodPatch,
		"/api/charts/{id}",
		"Rename a chart, stand it at another step, or move it to another version",
		s.changeChart,
	)
	add(s, makers, http.MethodDelete, "/api/charts/{id}", "Delete a chart with its trail", s.dropChart)
	add(s, makers, http.MethodPost, "/api/charts/{id}/steps", "Keep a step of the trail", s.addStep)
	add(s, readers, http.MethodGet, "/api/charts/{id}/steps/{step}", "A step of the trail, with its document", s.step)
	after := &huma.Param{Name: "after", In: "query", Description: "the number of the last that is known",
		Schema: &huma.Schema{Type: "integer"}}
	s.raw(readers, route{http.MethodGet, "/api/charts/{id}/events", "What happens on the trail of a chart, and who has it open, as it does",
		types(streamType), []*huma.Param{after}}, s.followed(func(id int64) app.Subject { return app.Subject{ChartID: id} }))
	s.raw(readers, route{http.MethodGet, "/api/datasets/{id}/events", "That a dataset or its notes change, and who has it open, as it does",
		types(streamType), nil}, s.followed(func(id int64) app.Subject { return app.Subject{DatasetID: id} }))
	s.raw(readers, route{http.MethodGet, "/api/pages/{id}/events", "That a page or its notes change, and who has it open, as it does",
		types(streamType), nil}, s.followed(func(id int64) app.Subject { return app.Subject{PageID: id} }))
	add(s, makers, http.MethodPut, "/api/windows/{window}", "Say where one writes; a place is one writer's at a time", s.standIn)
	add(s, makers, http.MethodPatch, "/api/charts/{id}/steps/{step}", "Name a step, or pin it", s.markStep)
	add(s, makers, http.MethodDelete, "/api/charts/{id}/steps/{step}", "Take a step, with all that follow it, out of the trail", s.takeStepOut)
	add(s, makers, http.MethodPost, "/api/charts/{id}/steps/{step}/back", "Put back what was taken out with a step", s.putStepBack)

	add(s, makers, http.MethodPost, "/api/charts/{id}/asked", "Ask the rows that were set aside, once, whether a chart's relation holds",
		s.askAside)

	s.raw(readers, route{http.MethodGet, "/api/charts/{id}/steps/{step}/picture.svg", "The small picture of a step", types("image/svg+xml"),
		sizeParameters()}, s.picture)

	add(s, readers, http.MethodGet, "/api/shares", "List shared charts", s.shares)
	add(s, makers, http.MethodPost, "/api/shares", "Share a chart", s.share)
	add(s, makers, http.MethodDelete, "/api/shares/{id}", "Withdraw what is shared", s.withdraw)
	add(s, readers, http.MethodGet, "/api/shares/{id}/opens", "How often a share was opened, by day", s.shareOpens)
	add(s, makers, http.MethodPost, "/api/copies", "Make a copy of what somebody shared in one's own space", s.copyShared)
	add(s, makers, http.MethodPost, "/api/pages/{id}/share", "Share a page with its charts", s.sharePage)
	s.raw(makers, route{http.MethodPost, "/api/shares/look", "What a reader would get of a shared chart; nothing goes out", page, nil},
		s.lookAtShare)
	s.raw(makers, route{http.MethodPost, "/api/pages/{id}/look", "What a reader would get of a shared page; nothing goes out", page, nil},
		s.lookAtPage)
}

// ofStories are the routes of pages: stories of texts and charts.
func (s *Server) ofStories() {
	s.about = "pages"
	add(s, readers, http.MethodGet, "/api/pages", "List pages, the last changed first", s.storyPages)
	add(s, makers, http.MethodPost, "/api/pages", "Make a page", s.addPage)
	add(s, readers, http.MethodGet, "/api/pages/{id}", "A page", s.storyPage)
	add(s, makers, http.MethodPut, "/api/pages/{id}", "Keep what was written; what others kept meanwhile stays", s.writePageOf)
	add(s, makers, http.MethodDelete, "/api/pages/{id}", "Delete a page with its earlier versions", s.dropPage)
	add(s, readers, http.MethodGet, "/api/pages/{id}/versions", "How a page was, the latest first", s.pageVersions)
	add(s, readers, http.MethodGet, "/api/pages/{id}/versions/{version}", "What a page said", s.pageVersion)
	add(s, readers, http.MethodPost, "/api/pages/followed", "A page whose words of readings are what its charts say now", s.followPage)
	add(s, readers, http.MethodGet, "/api/charts/{id}/steps/{step}/figure", "A chart at a step, drawn for a page, with what its reading says",
		s.stepFigure)
	s.answersBytes("/api/charts/{id}/steps/{step}/figure", figureType)
	add(s, readers, http.MethodGet, "/api/compared", "Two charts beside each other: what they say otherwise, rows and slopes", s.compared)
	add(s, readers, http.MethodGet, "/api/compared/figure", "One of two charts that are compared, with the axes of both",
		s.comparedFigure)
	s.answersBytes("/api/compared/figure", figureType)
}

// ofNotes are the routes of what people say to each other of charts, datasets and pages.
func (s *Server) ofNotes() {
	s.about = "notes"
	add(s, readers, http.MethodGet, "/api/notes", "Notes of a chart, a dataset, a page, or of all of the space", s.notes)
	add(s, makers, http.MethodPost, "/api/notes", "Write a note", s.addNote)
	add(s, makers, http.MethodPost, "/api/notes/{id}/answers", "Answer a note", s.answerNote)
	add(s, makers, http.MethodPatch, "/api/notes/{id}", "Resolve a note, open it again, or say one's own otherwise", s.changeNote)
	add(s, makers, http.MethodDelete, "/api/notes/{id}", "Delete a note with its answers: one's own, an owner anybody's", s.dropNote)
	add(s, makers, http.MethodDelete, "/api/notes/{id}/answers/{answer}", "Delete an answer: one's own, an owner anybody's", s.dropAnswer)
	add(s, readers, http.MethodPost, "/api/notes/{id}/seen", "Keep that one has seen a note that concerns one", s.seeNote)
}

// ofUsingAgain are the routes of what is kept to be used again: patterns, and looks.
func (s *Server) ofUsingAgain() {
	s.about = "using again"
	add(s, readers, http.MethodGet, "/api/patterns", "Sentences whose columns are blanks, the last made first", s.patterns)
	add(s, makers, http.MethodPost, "/api/patterns", "Make a pattern of a chart's sentence", s.addPattern)
	add(s, makers, http.MethodPatch, "/api/patterns/{id}", "Give a pattern another name", s.renamePattern)
	add(s, makers, http.MethodDelete, "/api/patterns/{id}", "Delete a pattern; charts that were made by it stay", s.dropPattern)
	add(s, readers, http.MethodPost, "/api/versions/{version}/fitted",
		"What a pattern, or the sentence of another table, is over a version: columns are proposed, and told what does not fit", s.fit)
	add(s, readers, http.MethodGet, "/api/comparisons", "Comparisons that are kept under names, the last first", s.comparisons)
	add(s, makers, http.MethodPost, "/api/comparisons", "Keep a comparison of two charts", s.keepComparison)
	add(s, makers, http.MethodDelete, "/api/comparisons/{id}", "Forget a comparison; its charts stay", s.dropComparison)
	add(s, readers, http.MethodGet, "/api/looks", "Looks and scales that are kept under names, the last first", s.looks)
	add(s, makers, http.MethodPost, "/api/looks", "Keep what a chart says of its looks and scales", s.addLook)
	add(s, makers, http.MethodDelete, "/api/looks/{id}", "Forget looks; charts stay as they are", s.dropLook)
}

// ofScripts are the routes that programs ask, with a key.
func (s *Server) ofScripts() {
	s.about = "scripts"
	read, adds, makes, shares := keys(app.ScopeRead), keys(app.ScopeAppend), keys(app.ScopeMake), keys(app.ScopeShare)
	add(s, read, http.MethodGet, "/api/v1", "What a key is for", s.hello)
	add(s, read, http.MethodGet, "/api/v1/datasets", "List datasets, the newest first", s.listDatasets)
	s.raw(
		makes,
		route{http.MethodPost, "/api/v1/datasets", "Read a file and keep it as a dataset, in one call", jsonOf[app.Brought](s, "Brought"),
			fileParameters("name", "what the dataset is called; empty: as the file is")},
		s.bringDataset,
	)
	add(s, read, http.MethodGet, "/api/v1/datasets/{id}", "A dataset with its columns", s.taggedDataset)
	add(s, adds, http.MethodPost, "/api/v1/datasets/{id}/asked", "Ask a dataset's origin now", s.askOrigin)
	s.raw(
		adds,
		route{http.MethodPut, "/api/v1/datasets/{id}/rows", "Keep a file as a dataset's next version, in place of its rows or behind them",
			jsonOf[app.Renewed](s, "Renewed"), append(fileParameters("how", "replace (as without it) or append"),
				inQuery("key", "with append: columns, with commas, whose values tell rows apart; a row that is there already is replaced"))},
		s.renewDataset,
	)
	s.raw(
		read,
		route{http.MethodGet, "/api/v1/versions/{version}", "The rows of a version, as its ending says: 12.csv, .arrow, .parquet, .jsonl",
			tableTypes(), []*huma.Param{inQuery("plain", "of CSV: cells as they are, also those that a spreadsheet would run")}},
		s.versionFile,
	)
	add(s, makes, http.MethodPost, "/api/v1/versions/{version}/prepared", "Prepare a version by clauses, as the next one", s.prepareVersion)
	add(s, read, http.MethodGet, "/api/v1/charts", "List charts, the newest first", s.listCharts)
	add(s, makes, http.MethodPost, "/api/v1/charts", "Make a chart of a sentence", s.newChart)
	s.raw(read, route{http.MethodGet, "/api/v1/charts/{chart}",
		"A chart, or as its ending says its picture (12.svg, .png, .pdf), its figure (.json) or its rows (.csv, .arrow, .parquet, .jsonl)",
		chartTypes(s), pictureParameters()}, s.chartFile)
	add(s, makes, http.MethodPatch, "/api/v1/charts/{chart}", "Lay a chart over another version, say it otherwise, or rename it",
		s.changedChart)
	add(s, read, http.MethodGet, "/api/v1/charts/{chart}/numbers", "Every fit and every finding of a chart, as numbers", s.numbersOfChart)
	add(s, read, http.MethodPost, "/api/v1/numbers", "The same of a chart that is not kept", s.numbersOfStated)
	add(s, shares, http.MethodPost, "/api/v1/charts/{chart}/share", "Share a chart", s.shareChart)
	add(s, read, http.MethodGet, "/api/v1/pages", "List pages, the newest first", s.listPages)
	add(s, makes, http.MethodPost, "/api/v1/pages", "Make a page of Markdown whose fenced lark blocks are charts", s.newPage)
	s.raw(read, route{http.MethodGet, "/api/v1/pages/{page}", "A page, or its Markdown: 3.md", pageFileTypes(s), nil}, s.pageFile)
	add(s, makes, http.MethodPut, "/api/v1/pages/{page}", "Make a page what Markdown says by now", s.pageAgain)
	add(s, shares, http.MethodPost, "/api/v1/pages/{page}/share", "Share a page with its charts", s.sharePageByKey)
	add(s, read, http.MethodGet, "/api/v1/shares", "List what is shared, the newest first", s.listShares)
	add(s, shares, http.MethodDelete, "/api/v1/shares/{id}", "Withdraw a shared chart", s.withdraw)
}

func pageFileTypes(s *Server) map[string]*huma.MediaType {
	all := jsonOf[KeptPage](s, "KeptPage")
	all["text/markdown"] = &huma.MediaType{}
	return all
}

// ofReaders are the routes of what is shared, for readers without an account.
func (s *Server) ofReaders() {
	s.about = "what is shared"
	// Shared pages are for whoever has their unguessable address, and what else is asked of them.
	reader := func(path, summary string, answers map[string]*huma.MediaType, cost int, handle gin.HandlerFunc, more ...*huma.Param) {
		s.raw(anyone, route{http.MethodGet, path, summary, answers, more}, s.asReader(cost, handle))
	}
	reader("/s/{key}", "The page of a share or, as its ending says, a picture (.png, .svg), a PDF or a single file of it (.html)",
		sharedTypes(), 1, s.sharedPage, inQuery("width", "of a PNG: in pixels"), inQuery("look", "light, dark or ink"),
		inQuery("ground", "none: without paper behind a picture"), inQuery("paper", "of a page as PDF: a4 or wide"))
	s.raw(anyone, route{http.MethodPost, "/s/{key}", "Say the password of a share", page, nil}, s.asReader(unlockCost, s.unlock))
	reader("/s/{key}/figure", "The encoded figure of a shared chart", types(figureType), 1, s.ofShared(s.sharedFigure(app.FirstFigure)))
	reader("/s/{key}/figure/exact", "The same with the places of dots as exact as they can be, for looking closely", types(figureType), 1,
		s.ofShared(s.sharedFigure(app.ExactFigure)))
	reader("/s/{key}/figure/phone", "The same laid out for a phone", types(figureType), 1, s.ofShared(s.sharedFigure(app.PhoneFigure)))
	reader("/s/{key}/links", "What the rows of a chart are called in all charts of its page: numbers of 4 bytes", types(figureType), 1,
		s.ofShared(s.sharedLinks))
	reader("/s/{key}/rows/{row}", "The values of a row that a shared chart publishes", jsonOf[map[string]string](s, "Row"), 1,
		s.ofShared(s.sharedRow))
	reader("/s/{key}/state", "Whether a share was followed by something newer", jsonOf[ShareState](s, "ShareState"), 1,
		s.ofShared(s.sharedState))
	reader("/s/{key}/earlier", "To what a live share was before it followed the last time", page, 1, s.ofShared(s.sharedEarlier))
	reader("/s/{key}/preview.png", "The picture for previews of its link, 1200 by 630", types("image/png"), 1, s.ofShared(s.sharedPreview))
	reader("/s/{key}/table.csv", "The rows that a shared chart publishes", types("text/csv"), wholeTableCost, s.ofShared(s.sharedTable("csv")))
	reader("/s/{key}/table.parquet", "The same as Parquet", types("application/vnd.apache.parquet"), wholeTableCost,
		s.ofShared(s.sharedTable("parquet")))
	reader("/embed/{key}", "A share for a frame in a page of somebody else", page, 1, s.embedded,
		inQuery("theme", "light or dark; else as the system"))
	reader("/oembed", "How a share is embedded, as oEmbed says", jsonOf[Embedding](s, "Embedding"), 1, s.oembed,
		inQuery("url", "of a share"), inQuery("format", "json"), inQuery("maxwidth", "in pixels"), inQuery("maxheight", "in pixels"))
}

// sharedTypes are the types that a share is answered as.
func sharedTypes() map[string]*huma.MediaType {
	return types("text/html", "image/png", "image/svg+xml", "application/pdf")
}

// ofPages are the routes of the program itself: for whoever runs it, and its pages, which hold no data.
func (s *Server) ofPages() {
	s.about = "the program"
	// For whoever runs the server: alive, ready, and, with a token, measured.
	s.raw(anyone, route{http.MethodGet, "/health", "Whether the program is alive", jsonOf[state](s, "State"), nil}, s.health)
	s.raw(anyone, route{http.MethodGet, "/ready", "Whether the database answers", jsonOf[state](s, "State"), nil}, s.ready)
	s.raw(anyone, route{http.MethodGet, "/metrics", "What is counted, for Prometheus; with a token", types("text/plain"), nil}, s.metrics)
	s.page("/assets/*file", s.asset)
	s.page("/api", s.apiPage)
	s.page("/embed.js", s.embedScript)
	for _, view := range viewsOfASpace {
		s.page(view, s.application)
		s.page(strings.TrimSuffix("/in/:space"+view, "/"), s.application)
	}
	for _, view := range viewsOfNone {
		s.page(view, s.application)
	}
	for _, described := range []string{".json", ".yaml", "-3.0.json", "-3.0.yaml"} {
		s.gates["GET "+openAPIPath+described] = anyone // huma's own: what the routes are
	}
	s.router.NoRoute(s.nothing)
}
