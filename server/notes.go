package server

import (
	"context"

	"copperlark/app"
)

type notesInput struct {
	Chart   int64  `query:"chart" doc:"those on this chart"`
	Dataset int64  `query:"dataset" doc:"those on this dataset"`
	Page    int64  `query:"page" doc:"those on this page"`
	Version int64  `query:"version" doc:"tells where the rows of notes stand in this version"`
	Find    string `query:"find" maxLength:"300" doc:"words that must stand in a note, its answers, or the name of what it is on"`
	Fresh   bool   `query:"fresh" doc:"those that concern whoever asks and that they have not seen"`
	Open    bool   `query:"open" doc:"those that are not resolved"`
}

func (s *Server) notes(ctx context.Context, who app.Person, in *notesInput) (*body[[]app.Note], error) {
	list, err := s.app.Notes(ctx, who, app.NotesWanted{Subject: app.Subject{ChartID: in.Chart, DatasetID: in.Dataset, PageID: in.Page},
		Find: in.Find, Fresh: in.Fresh, Open: in.Open}, in.Version)
	return of(list), err
}

type addNoteInput struct{ Body app.NewNote }

func (s *Server) addNote(ctx context.Context, who app.Person, in *addNoteInput) (*body[app.Note], error) {
	note, err := s.app.AddNote(ctx, who, in.Body)
	return of(note), err
}

type answerNoteInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Text string `json:"text" minLength:"1" maxLength:"16000"`
	}
}

func (s *Server) answerNote(ctx context.Context, who app.Person, in *answerNoteInput) (*body[app.Note], error) {
	note, err := s.app.AnswerNote(ctx, who, in.ID, in.Body.Text)
	return of(note), err
}

type changeNoteInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Text     *string `json:"text,omitempty" minLength:"1" maxLength:"16000" doc:"of a note of one's own"`
		Resolved *bool   `json:"resolved,omitempty"`
	}
}

func (s *Server) changeNote(ctx context.Context, who app.Person, in *changeNoteInput) (*body[app.Note], error) {
	note, err := s.app.ChangeNote(ctx, who, in.ID, in.Body.Text, in.Body.Resolved)
	return of(note), err
}

func (s *Server) dropNote(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropNote(ctx, who, in.ID)
}

type dropAnswerInput struct {
	ID     int64 `path:"id"`
	Answer int64 `path:"answer" doc:"the number of the answer"`
}

func (s *Server) dropAnswer(ctx context.Context, who app.Person, in *dropAnswerInput) (*empty, error) {
	return &empty{}, s.app.DropNoteAnswer(ctx, who, in.ID, in.Answer)
}

func (s *Server) seeNote(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.SeeNote(ctx, who, in.ID)
}
