package server

import (
	"context"

	"copperlark/app"
)

type passwordInput struct {
	Body struct {
		Old string `json:"old" maxLength:"2000" doc:"empty where there is none"`
		New string `json:"new" maxLength:"2000"`
	}
}

func (s *Server) changePassword(ctx context.Context, who app.Person, in *passwordInput) (*empty, error) {
	return nil, s.app.ChangePassword(ctx, who, in.Body.Old, in.Body.New)
}

func (s *Server) sessions(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Session], error) {
	list, err := s.app.Sessions(ctx, who)
	return of(list), err
}

func (s *Server) endSession(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.EndSession(ctx, who, in.ID)
}

func (s *Server) factor(ctx context.Context, who app.Person, _ *empty) (*body[app.Factors], error) {
	all, err := s.app.Factors(ctx, who)
	return of(all), err
}

// provenInput is something that matters, asked with the password once more.
type provenInput struct {
	Body struct {
		Password string `json:"password" maxLength:"2000" doc:"the one that they sign in with; empty where there is none"`
		Code     string `json:"code,omitempty" maxLength:"40" doc:"of the second factor"`
		ID       []byte `json:"id,omitempty" doc:"of a passkey"`
	}
}

func (s *Server) beginFactor(ctx context.Context, who app.Person, in *provenInput) (*body[app.FactorWanted], error) {
	wanted, err := s.app.BeginFactor(ctx, who, in.Body.Password)
	return of(wanted), err
}

type codeInput struct {
	Body struct {
		Code string `json:"code" maxLength:"40"`
	}
}

func (s *Server) confirmFactor(ctx context.Context, who app.Person, in *codeInput) (*body[[]string], error) {
	codes, err := s.app.ConfirmFactor(ctx, who, in.Body.Code)
	return of(codes), err
}

func (s *Server) showFactor(ctx context.Context, who app.Person, in *codeInput) (*empty, error) {
	return nil, s.app.ShowFactor(ctx, who, in.Body.Code)
}

func (s *Server) dropFactor(ctx context.Context, who app.Person, in *provenInput) (*empty, error) {
	return nil, s.app.DropFactor(ctx, who, in.Body.Password, in.Body.Code)
}

func (s *Server) beginPasskey(ctx context.Context, who app.Person, in *provenInput) (*body[Ceremony], error) {
	return ceremony(s.app.BeginPasskey(ctx, who, in.Body.Password))
}

func (s *Server) addPasskey(ctx context.Context, who app.Person, in *passkeyInput) (*empty, error) {
	return nil, s.app.AddPasskey(ctx, who, in.Body.Token, in.Body.Credential)
}

func (s *Server) dropPasskey(ctx context.Context, who app.Person, in *provenInput) (*empty, error) {
	return nil, s.app.DropPasskey(ctx, who, in.Body.ID, in.Body.Password)
}
