package server

import (
	"context"
	"encoding/json"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

// Ways are how people can sign in here.
type Ways struct {
	Organisation string `json:"organisation,omitempty" doc:"the host of the organisation that people sign in through"`
	Post         bool   `json:"post" doc:"whether a link to a new password can be sent by e-mail"`
	LeastLetters int    `json:"least_letters" doc:"of a password"`
}

func (s *Server) ways(context.Context, app.Person, *empty) (*body[Ways], error) {
	organisation, post := s.app.Ways()
	return of(Ways{organisation, post, app.LeastPassword}), nil
}

type sessionOutput struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
}

// signedIn is the answer that begins a session.
func (s *Server) signedIn(token string, err error) (*sessionOutput, error) {
	if err != nil {
		return nil, err
	}
	return &sessionOutput{*s.cookie(token, int(app.SessionTime.Seconds()))}, nil
}

type signInInput struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"500"`
		Code     string `json:"code,omitempty" maxLength:"40" doc:"of the second factor, or a recovery code"`
	}
}

func (s *Server) signIn(ctx context.Context, _ app.Person, in *signInInput) (*sessionOutput, error) {
	return s.signedIn(s.app.SignIn(ctx, in.Body.Email, in.Body.Password, in.Body.Code))
}

func (s *Server) signOut(ctx context.Context, _ app.Person, _ *empty) (*sessionOutput, error) {
	token, _ := ctx.Value(tokenKey).(string)
	if err := s.app.SignOut(ctx, token); err != nil {
		return nil, err
	}
	return &sessionOutput{*s.cookie("", -1)}, nil
}

// Ceremony is the first half of making or using a passkey: what the browser's own call takes, and what to send back with
// its answer.
type Ceremony struct {
	Token   string          `json:"token"`
	Options json.RawMessage `json:"options" doc:"of navigator.credentials, as Web Authentication writes it in JSON"`
}

func ceremony(options any, token string, err error) (*body[Ceremony], error) {
	if err != nil {
		return nil, err
	}
	written, err := json.Marshal(options)
	return of(Ceremony{token, written}), err
}

type passkeyInput struct {
	Body struct {
		Token      string          `json:"token" maxLength:"100"`
		Credential json.RawMessage `json:"credential" doc:"what the browser gave"`
	}
}

func (s *Server) beginPasskeySignIn(ctx context.Context, _ app.Person, _ *empty) (*body[Ceremony], error) {
	return ceremony(s.app.BeginPasskeySignIn(ctx))
}

func (s *Server) passkeySignIn(ctx context.Context, _ app.Person, in *passkeyInput) (*sessionOutput, error) {
	return s.signedIn(s.app.PasskeySignIn(ctx, in.Body.Token, in.Body.Credential))
}

type forgottenInput struct {
	Body struct {
		Email string `json:"email" maxLength:"200"`
	}
}

func (s *Server) forgotten(ctx context.Context, _ app.Person, in *forgottenInput) (*empty, error) {
	return nil, s.app.Forgotten(ctx, in.Body.Email)
}

type newPasswordInput struct {
	Body struct {
		Link     string `json:"link" maxLength:"100"`
		Password string `json:"password" maxLength:"2000"`
	}
}

func (s *Server) newPassword(ctx context.Context, _ app.Person, in *newPasswordInput) (*sessionOutput, error) {
	return s.signedIn(s.app.NewPassword(ctx, in.Body.Link, in.Body.Password))
}

// Newcomer is what somebody says of themselves who is not known yet.
type Newcomer struct {
	Email    string `json:"email" maxLength:"200"`
	Name     string `json:"name" maxLength:"200"`
	Password string `json:"password" maxLength:"2000"`
}

func (n Newcomer) person() app.NewPerson {
	return app.NewPerson{Email: n.Email, Name: n.Name, Password: n.Password}
}

type firstInput struct {
	Body struct {
		Newcomer
		Link  string `json:"link" maxLength:"100"`
		Space string `json:"space" maxLength:"200" doc:"the name of the first space"`
	}
}

func (s *Server) first(ctx context.Context, _ app.Person, in *firstInput) (*sessionOutput, error) {
	return s.signedIn(s.app.First(ctx, in.Body.Link, in.Body.person(), in.Body.Space))
}

// Invited is an invitation as whoever has its link sees it.
type Invited struct {
	Space  string   `json:"space"`
	Role   app.Role `json:"role"`
	By     string   `json:"by" doc:"who made it"`
	Email  string   `json:"email,omitempty" doc:"whose address must match"`
	Place  string   `json:"place,omitempty" doc:"where the space is, after it was used"`
	Member bool     `json:"member" doc:"whether whoever asks is in the space already"`
}

func (s *Server) invited(ctx context.Context, _ app.Person, in *keyInput) (*body[Invited], error) {
	invitation, err := s.app.Invited(ctx, in.Key)
	if err != nil {
		return nil, err
	}
	said := invitedOf(invitation)
	said.Place = ""
	if who, err := person(ctx); err == nil {
		places, err := s.app.Places(ctx, who)
		if err != nil {
			return nil, err
		}
		for _, place := range places {
			if place.ID == invitation.SpaceID {
				said.Member, said.Place = true, spaceAddress(place.ID, place.Name)
			}
		}
	}
	return of(said), nil
}

func invitedOf(i app.Invitation) Invited {
	return Invited{Space: i.SpaceName, Role: i.Role, By: i.MadeBy, Email: i.Email, Place: spaceAddress(i.SpaceID, i.SpaceName)}
}

func (s *Server) join(ctx context.Context, who app.Person, in *keyInput) (*body[Invited], error) {
	invitation, err := s.app.Join(ctx, who, in.Key)
	return of(invitedOf(invitation)), err
}

type joinInput struct {
	Key  string `path:"key"`
	Body Newcomer
}

type joinedOutput struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
	Body      Invited
}

func (s *Server) joinAnew(ctx context.Context, _ app.Person, in *joinInput) (*joinedOutput, error) {
	token, invitation, err := s.app.JoinAnew(ctx, in.Key, in.Body.person())
	if err != nil {
		return nil, err
	}
	return &joinedOutput{*s.cookie(token, int(app.SessionTime.Seconds())), invitedOf(invitation)}, nil
}

// ceremonyCookie holds the token of a sign-in that goes through the organisation. It is Lax: the way back is a link of
// another site.
const ceremonyCookie = "lark_ceremony"

func (s *Server) toOrganisation(c *gin.Context) {
	back := c.Query("back")
	if !strings.HasPrefix(back, "/") || strings.HasPrefix(back, "//") || strings.ContainsAny(back, "\\\r\n") {
		back = "/"
	}
	address, token, err := s.app.BeginOrganisation(c.Request.Context(), back)
	if err != nil {
		s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
		return
	}
	http.SetCookie(c.Writer, s.onTheWay(token, 600))
	c.Redirect(http.StatusSeeOther, address)
}

func (s *Server) onTheWay(token string, age int) *http.Cookie {
	cookie := s.cookie(token, age)
	cookie.Name, cookie.Path = ceremonyCookie, "/organisation"
	return cookie
}

func (s *Server) fromOrganisation(c *gin.Context) {
	held, _ := c.Cookie(ceremonyCookie)
	http.SetCookie(c.Writer, s.onTheWay("", -1))
	token, back, err := s.app.FinishOrganisation(c.Request.Context(), held, c.Query("state"), c.Query("code"))
	if err != nil {
		s.log.WarnContext(c.Request.Context(), "somebody did not come in through the organisation", "error", err)
		s.writeWords(c, s.answerFor(c.Request.Context(), err), "")
		return
	}
	s.setSession(c, token, int(app.SessionTime.Seconds()))
	c.Redirect(http.StatusSeeOther, back)
}

// linkPage asks whoever opens a sign-in link to press a button: programs that only look
// at what links lead to must not use it up.
func (s *Server) linkPage(c *gin.Context) {
	if _, err := person(c.Request.Context()); err == nil {
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	s.writePage(c, http.StatusOK, "link.html", map[string]any{"Version": s.pages.version})
}

// useLink turns a one-time link into a session. It answers with a redirect, so
// that the link does not stay in the address bar.
func (s *Server) useLink(c *gin.Context) {
	token, err := s.app.UseSignInLink(c.Request.Context(), c.Param("link"))
	if err != nil {
		a := s.answerFor(c.Request.Context(), err)
		title := ""
		if a.status == http.StatusUnauthorized {
			if _, signed := person(c.Request.Context()); signed == nil {
				c.Redirect(http.StatusSeeOther, "/") // a second press of the link that signed this browser in
				return
			}
			title = "This link does not sign you in"
		}
		s.writeWords(c, a, title)
		return
	}
	s.setSession(c, token, int(app.SessionTime.Seconds()))
	c.Redirect(http.StatusSeeOther, "/")
}
