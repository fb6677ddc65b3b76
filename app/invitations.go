package app

import (
	"context"
	"errors"
	"fmt"
	"net/mail"
	"strings"
	"time"
)

// Invitation lets whoever has its link into a space.
type Invitation struct {
	ID        int64     `json:"id"`
	Key       string    `json:"key"`
	Role      Role      `json:"role"`
	Email     string    `json:"email" doc:"whose address must match; empty: anybody's"`
	MostUses  int       `json:"most_uses"`
	Uses      int       `json:"uses"`
	ExpiresAt time.Time `json:"expires_at"`
	MadeBy    string    `json:"made_by"`
	SpaceName string    `json:"-"`
	SpaceID   int64     `json:"-"`
	MakerID   int64     `json:"-"`
}

// InvitationWanted is what an owner says of an invitation.
type InvitationWanted struct {
	Role  Role   `json:"role" enum:"reader,maker,owner"`
	Email string `json:"email,omitempty" maxLength:"200" doc:"whose address must match; empty: anybody's"`
	Uses  int    `json:"uses" minimum:"1" maximum:"500" doc:"how many people may use it"`
	Days  int    `json:"days" minimum:"1" maximum:"60" doc:"how many days it can be used"`
}

// Newcomer is who uses an invitation: a person that is known, or somebody new.
type Newcomer struct {
	PersonID     int64 // 0: somebody new
	Email, Name  string
	PasswordHash string
}

// mostInvitations is how many invitations of a space may wait at once.
const mostInvitations = 100

// Invite makes an invitation.
func (a *App) Invite(ctx context.Context, person Person, wanted InvitationWanted) (Invitation, error) {
	email := ""
	if wanted.Email = strings.TrimSpace(wanted.Email); wanted.Email != "" {
		var err error
		if email, err = address(wanted.Email); err != nil {
			return Invitation{}, err
		}
		wanted.Uses = 1
	}
	if err := wanted.Role.check(); err != nil {
		return Invitation{}, err
	}
	waiting, err := a.store.Invitations(ctx, person.SpaceID)
	if err != nil {
		return Invitation{}, err
	}
	if len(waiting) >= mostInvitations {
		return Invitation{}, &Invalid{Message: fmt.Sprintf("%d invitations wait already", mostInvitations), Advice: "take one back first"}
	}
	key, _ := newToken()
	made, err := a.store.AddInvitation(ctx, person.SpaceID, Invitation{Key: key, Role: wanted.Role, Email: email, MostUses: wanted.Uses,
		ExpiresAt: a.now().Add(time.Duration(wanted.Days) * 24 * time.Hour), MakerID: person.ID})
	if err == nil {
		made.MadeBy = person.Name
		a.did(ctx, person, didInvite, made.whom()+" as "+string(made.Role))
	}
	return made, err
}

func (i Invitation) whom() string {
	if i.Email != "" {
		return i.Email
	}
	return "anybody with the link"
}

// address reads an address of e-mail as people write it.
func address(text string) (string, error) {
	read, err := mail.ParseAddress(strings.TrimSpace(text))
	if err != nil || read.Name != "" {
		return "", &Invalid{Message: fmt.Sprintf("%q is no address of e-mail", short(text, 60)), Advice: "write it as name@place.example"}
	}
	return strings.ToLower(read.Address), nil
}

// Invitations lists the invitations of a space that can still be used.
func (a *App) Invitations(ctx context.Context, person Person) ([]Invitation, error) {
	return a.store.Invitations(ctx, person.SpaceID)
}

// TakeBack takes an invitation back: its link leads nowhere from then on.
func (a *App) TakeBack(ctx context.Context, person Person, id int64) error {
	err := a.store.DropInvitation(ctx, person.SpaceID, id)
	if err == nil {
		a.did(ctx, person, didTakeBack, fmt.Sprintf("the invitation %d", id))
	}
	return err
}

// Invited gives the invitation of a link, for whoever has it.
func (a *App) Invited(ctx context.Context, key string) (Invitation, error) {
	invitation, err := a.store.InvitationByKey(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return invitation, ErrInvitationOver
	}
	return invitation, err
}

// Join lets a person who is signed in use an invitation; it gives the space.
func (a *App) Join(ctx context.Context, person Person, key string) (Invitation, error) {
	invitation, err := a.Invited(ctx, key)
	if err != nil {
		return invitation, err
	}
	if invitation.Email != "" && invitation.Email != person.Email {
		return invitation, ErrInvitationOther
	}
	if _, err = a.store.UseInvitation(ctx, key, Newcomer{PersonID: person.ID, Email: person.Email}); err != nil {
		return invitation, err
	}
	person.SpaceID = invitation.SpaceID
	a.did(ctx, person, didJoin, "as "+string(invitation.Role)+", invited by "+invitation.MadeBy)
	return invitation, nil
}

// JoinAnew makes a person of whoever has the link of an invitation, puts them into its space, and gives their session. An
// address that is known already is refused without saying why: its owner signs in first.
func (a *App) JoinAnew(ctx context.Context, key string, newcomer NewPerson) (token string, invitation Invitation, err error) {
	if invitation, err = a.Invited(ctx, key); err != nil {
		return "", invitation, err
	}
	email, err := address(newcomer.Email)
	if err != nil {
		return "", invitation, err
	}
	if invitation.Email != "" && invitation.Email != email {
		return "", invitation, ErrInvitationOther
	}
	name, err := personName(newcomer.Name)
	if err != nil {
		return "", invitation, err
	}
	if err := a.fitPassword(newcomer.Password, email, name); err != nil {
		return "", invitation, err
	}
	var id int64
	err = a.guarded(ctx, email, func() error {
		id, err = a.store.UseInvitation(ctx, key, Newcomer{Email: email, Name: name, PasswordHash: HashPassword(newcomer.Password)})
		return err
	})
	if errors.Is(err, ErrKnown) {
		return "", invitation, ErrJoinKnown
	}
	if err != nil {
		return "", invitation, err
	}
	a.did(ctx, Person{ID: id, Name: name, Email: email, SpaceID: invitation.SpaceID}, didJoin,
		"as "+string(invitation.Role)+", invited by "+invitation.MadeBy)
	token, err = a.newSession(ctx, id, false)
	return token, invitation, err
}

func personName(name string) (string, error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || len([]rune(name)) > 100 {
		return "", &Invalid{Message: "a person needs a name of at most 100 letters", Advice: "write it as others know you"}
	}
	return name, nil
}
