package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
)

// Space is a space as one of its people sees it, with the address that it stands under.
type Space struct {
	app.Place
	Address string `json:"address" doc:"of its front page: /in/3-thornwick-apiaries"`
}

// Me is who is signed in, in which space.
type Me struct {
	ID        int64      `json:"id"`
	Name      string     `json:"name"`
	Email     string     `json:"email"`
	Space     string     `json:"space" doc:"the name of the space that is asked about; empty: they are in none"`
	SpaceID   int64      `json:"space_id"`
	Address   string     `json:"address" doc:"of the space"`
	Role      app.Role   `json:"role"`
	Spaces    []Space    `json:"spaces" nullable:"false" doc:"all that they are in, by name"`
	AskFactor bool       `json:"ask_factor" doc:"the space wants a second factor, and the session has not shown one"`
	HasFactor bool       `json:"has_factor"`
	FactorOf  []app.Role `json:"factor_of" nullable:"false" doc:"the roles that the space asks a second factor of"`
	LeavesAt  *time.Time `json:"leaves_at,omitempty" doc:"when the space is deleted"`
	Gone      bool       `json:"gone" doc:"they are not in the space that is asked about"`
	Roles     []RoleSaid `json:"roles" nullable:"false"`
	Letters   *bool      `json:"letters,omitempty" doc:"where e-mail is set: whether they get a letter a day of notes that concern them"`
	TryDays   int        `json:"try_days,omitempty" doc:"after how many days without a change charts go that nobody named, kept or shared"`
}

// RoleSaid is a role with what it means.
type RoleSaid struct {
	Role  app.Role `json:"role"`
	Means string   `json:"means"`
}

func (s *Server) me(ctx context.Context, who app.Person, _ *empty) (*body[Me], error) {
	places, err := s.app.Places(ctx, who)
	if err != nil {
		return nil, err
	}
	said := Me{ID: who.ID, Name: who.Name, Email: who.Email, Space: who.SpaceName, SpaceID: who.SpaceID, Role: who.Role, Spaces: []Space{},
		AskFactor: who.LacksFactor(), HasFactor: who.HasFactor, FactorOf: append([]app.Role{}, who.FactorOf...),
		Gone: who.Role == app.NoRole && len(places) > 0}
	if who.SpaceID != 0 {
		said.Address = spaceAddress(who.SpaceID, who.SpaceName)
	}
	said.TryDays = s.app.TryDays()
	if _, post := s.app.Ways(); post {
		said.Letters = &who.Letters
	}
	if !who.LeavesAt.IsZero() {
		said.LeavesAt = &who.LeavesAt
	}
	for _, place := range places {
		said.Spaces = append(said.Spaces, Space{place, spaceAddress(place.ID, place.Name)})
	}
	for _, one := range app.Roles {
		said.Roles = append(said.Roles, RoleSaid{one.Role, one.Means})
	}
	return of(said), nil
}

type changeMeInput struct {
	Body struct {
		Name    *string `json:"name,omitempty" maxLength:"200"`
		Letters *bool   `json:"letters,omitempty" doc:"whether one gets a letter a day of notes that concern one"`
	}
}

func (s *Server) changeMe(ctx context.Context, who app.Person, in *changeMeInput) (*empty, error) {
	return nil, s.app.ChangeMe(ctx, who, in.Body.Name, in.Body.Letters)
}

type addSpaceInput struct {
	Body struct {
		Name string `json:"name" maxLength:"200"`
	}
}

func (s *Server) addSpace(ctx context.Context, who app.Person, in *addSpaceInput) (*body[Space], error) {
	place, err := s.app.AddSpace(ctx, who, in.Body.Name)
	return of(Space{place, spaceAddress(place.ID, place.Name)}), err
}

type changeSpaceInput struct{ Body app.SpaceChange }

func (s *Server) changeSpace(ctx context.Context, who app.Person, in *changeSpaceInput) (*empty, error) {
	return nil, s.app.ChangeSpace(ctx, who, in.Body)
}

func (s *Server) people(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Member], error) {
	list, err := s.app.Members(ctx, who)
	return of(list), err
}

type setRoleInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Role app.Role `json:"role" enum:"reader,maker,owner"`
	}
}

func (s *Server) setRole(ctx context.Context, who app.Person, in *setRoleInput) (*empty, error) {
	return nil, s.app.SetRole(ctx, who, in.ID, in.Body.Role)
}

func (s *Server) takeOut(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.TakeOut(ctx, who, in.ID)
}

func (s *Server) leave(ctx context.Context, who app.Person, _ *empty) (*empty, error) {
	return nil, s.app.Leave(ctx, who)
}

// PasswordLink leads somebody to a new password.
type PasswordLink struct {
	Path string `json:"path" doc:"of its address on this server"`
}

func (s *Server) passwordLink(ctx context.Context, who app.Person, in *idInput) (*body[PasswordLink], error) {
	token, err := s.app.PasswordLink(ctx, who, in.ID)
	return of(PasswordLink{"/password/" + token}), err
}

func (s *Server) invitations(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Invitation], error) {
	list, err := s.app.Invitations(ctx, who)
	return of(list), err
}

type inviteInput struct{ Body app.InvitationWanted }

func (s *Server) invite(ctx context.Context, who app.Person, in *inviteInput) (*body[app.Invitation], error) {
	made, err := s.app.Invite(ctx, who, in.Body)
	return of(made), err
}

func (s *Server) takeBack(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return nil, s.app.TakeBack(ctx, who, in.ID)
}

type auditInput struct {
	Before int64     `query:"before" doc:"entries before this one; 0: the newest"`
	Who    string    `query:"who" maxLength:"200" doc:"in the name of who did it"`
	About  string    `query:"about" maxLength:"40" doc:"what it was about; empty: anything"`
	From   time.Time `query:"from" doc:"done at this time or later"`
	To     time.Time `query:"to" doc:"done before this time"`
}

// Audit is a page of what was done, and what can be asked of it.
type Audit struct {
	Entries []app.AuditEntry `json:"entries" nullable:"false"`
	Abouts  []string         `json:"abouts" nullable:"false" doc:"what entries can be about"`
	Days    int              `json:"days" doc:"how long entries are kept; 0: for ever"`
}

func (s *Server) audit(ctx context.Context, who app.Person, in *auditInput) (*body[Audit], error) {
	list, err := s.app.Audit(ctx, who, app.AuditWanted{Before: in.Before, Who: in.Who, About: in.About, From: in.From, To: in.To})
	return of(Audit{list, app.AuditAbout(), s.app.AuditDays()}), err
}

func auditParameters() []*huma.Param {
	return []*huma.Param{inQuery("who", "in the name of who did it"), inQuery("about", "what it was about"),
		inQuery("from", "done at this time or later"), inQuery("to", "done before this time")}
}

// auditFile sends what was done as CSV.
func (s *Server) auditFile(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	wanted := app.AuditWanted{Who: c.Query("who"), About: c.Query("about")}
	for name, into := range map[string]*time.Time{"from": &wanted.From, "to": &wanted.To} {
		if said := c.Query(name); said != "" && err == nil {
			*into, err = time.Parse(time.RFC3339, said)
		}
	}
	if err != nil {
		s.refuse(c.Writer, ctx, &app.Invalid{Message: "the time cannot be read", Advice: "write it as 2026-11-29T08:00:00Z"})
		return
	}
	s.attach(c, "text/csv; charset=utf-8", app.FileName("what was done in "+who.SpaceName, "csv"), func() error {
		return s.app.WriteAudit(ctx, who, wanted, c.Writer)
	})
}

// exportSpace sends the whole space as one file.
func (s *Server) exportSpace(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	if err != nil {
		s.refuse(c.Writer, ctx, err)
		return
	}
	s.attach(c, "application/zip", app.FileName(who.SpaceName, "space.zip"), func() error { return s.app.WriteSpace(ctx, who, c.Writer) })
}

// importSpace makes a space of such a file.
func (s *Server) importSpace(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	if err == nil {
		var sent *sentFile
		if sent, err = fileOf(c.Request, ""); err == nil {
			var place app.Place
			if place, err = s.app.ReadSpace(ctx, who, sent.content); err == nil {
				writeJSON(c.Writer, http.StatusOK, Space{place, spaceAddress(place.ID, place.Name)})
				return
			}
		}
	}
	s.refuse(c.Writer, ctx, err)
}
