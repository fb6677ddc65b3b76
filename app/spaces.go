package app

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"
)

// Person is somebody who is signed in, in one of their spaces.
type Person struct {
	ID          int64
	Name        string
	Email       string
	SpaceID     int64 // 0: in none
	SpaceName   string
	Role        Role      // in the space
	SessionID   int64     // 0: not by a session
	Strong      bool      // the session has shown a second factor
	HasFactor   bool      // there is one that could be shown
	HasPassword bool      // only where PutIn gives the person
	FactorOf    []Role    // the roles that the space asks a second factor of
	LeavesAt    time.Time // when the space is deleted; zero: never
	Letters     bool      // a letter a day of notes that concern them
}

// LacksFactor reports whether the space asks for a second factor that the session has not shown.
func (p Person) LacksFactor() bool {
	return !p.Strong && slices.Contains(p.FactorOf, p.Role)
}

// Place is a space as one of its people sees it.
type Place struct {
	ID       int64      `json:"id"`
	Name     string     `json:"name"`
	Role     Role       `json:"role"`
	LeavesAt *time.Time `json:"leaves_at,omitempty" doc:"when it is deleted"`
}

// Member is somebody in a space.
type Member struct {
	ID        int64      `json:"id"`
	Name      string     `json:"name"`
	Email     string     `json:"email"`
	Role      Role       `json:"role"`
	LastHere  *time.Time `json:"last_here,omitempty" doc:"when they were last in the space"`
	Now       bool       `json:"now" doc:"whether they are here now"`
	HasFactor bool       `json:"has_factor" doc:"whether they have a second factor or a passkey"`
	AskedFor  bool       `json:"asked_for" doc:"whether the space asks their role for one"`
	Elsewhere bool       `json:"elsewhere" doc:"whether they are in a space that whoever asks does not own"`
}

// PeopleStorage is what the program keeps of spaces and who is in them. A call that takes a space and a person changes
// only somebody who is in it, and gives ErrNotFound for others.
type PeopleStorage interface {
	AddPerson(ctx context.Context, email, name, passwordHash, spaceName string) (Person, error) // with a space of their own; "": in none
	ChangePerson(ctx context.Context, personID int64, name *string, letters *bool) error        // nil stays as it is
	AnyPeople(ctx context.Context) (bool, error)
	AddMember(ctx context.Context, spaceID, personID int64, role Role) error // a role that somebody has stays
	SpacesNamed(ctx context.Context, name string) ([]int64, error)
	Places(ctx context.Context, personID int64) ([]Place, error)
	SpaceOfDataset(ctx context.Context, personID, datasetID int64) (int64, error) // of those that the person is in
	AddSpace(ctx context.Context, personID int64, name string) (Place, error)     // which they own
	ChangeSpace(ctx context.Context, spaceID int64, change SpaceChange) error
	Members(ctx context.Context, spaceID, askedBy int64) ([]Member, error)
	SetRole(ctx context.Context, spaceID, personID int64, role Role) error // ErrLastOwner where nobody would own the space
	DropMember(ctx context.Context, spaceID, personID int64) error         // ErrLastOwner as well

	WriteSpace(ctx context.Context, spaceID int64, into io.Writer) error                        // as one file
	ReadSpace(ctx context.Context, personID int64, file io.ReaderAt, size int64) (Place, error) // which the person owns

	AddInvitation(ctx context.Context, spaceID int64, invitation Invitation) (Invitation, error)
	Invitations(ctx context.Context, spaceID int64) ([]Invitation, error) // that can still be used
	DropInvitation(ctx context.Context, spaceID, id int64) error
	InvitationByKey(ctx context.Context, key string) (Invitation, error)
	// UseInvitation puts somebody into the space: a known person, or a new one who is made; both or nothing.
	UseInvitation(ctx context.Context, key string, newcomer Newcomer) (personID int64, err error)
}

// SpaceChange says what changes of a space; what is nil stays.
type SpaceChange struct {
	Name     *string    `json:"name,omitempty" maxLength:"100"`
	FactorOf *[]Role    `json:"factor_of,omitempty" doc:"the roles that a second factor is asked of"`
	Leaves   *bool      `json:"leaves,omitempty" doc:"true: it is deleted in a week; false: it stays"`
	LeavesAt *time.Time `json:"-"`
}

// leaveAfter is how long a space waits to be deleted after an owner said so: until then any owner can keep it.
const leaveAfter = 7 * 24 * time.Hour

// mostSpaces is how many spaces one person may make or be in.
const mostSpaces = 100

// Places lists the spaces that somebody is in.
func (a *App) Places(ctx context.Context, person Person) ([]Place, error) {
	return a.store.Places(ctx, person.ID)
}

// InSpace gives the space of a dataset among those that somebody is in.
func (a *App) InSpace(ctx context.Context, person Person, datasetID int64) (int64, error) {
	return a.store.SpaceOfDataset(ctx, person.ID, datasetID)
}

// AddSpace makes a space that the person owns.
func (a *App) AddSpace(ctx context.Context, person Person, name string) (Place, error) {
	name, err := spaceName(name)
	if err != nil {
		return Place{}, err
	}
	if err := a.roomForSpace(ctx, person); err != nil {
		return Place{}, err
	}
	place, err := a.store.AddSpace(ctx, person.ID, name)
	if err == nil {
		person.SpaceID = place.ID
		a.did(ctx, person, didSpace, "“"+name+"”")
	}
	return place, err
}

// roomForSpace reports why somebody may not be in one space more; nil: they may.
func (a *App) roomForSpace(ctx context.Context, person Person) error {
	places, err := a.store.Places(ctx, person.ID)
	if err == nil && len(places) >= mostSpaces {
		return &Invalid{Message: fmt.Sprintf("you are in %d spaces, and there may be no more", mostSpaces), Advice: "leave one first"}
	}
	return err
}

func spaceName(name string) (string, error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || len([]rune(name)) > 100 {
		return "", &Invalid{Message: "a space needs a name of at most 100 letters", Advice: "call it as its people do"}
	}
	return name, nil
}

// ChangeSpace renames a space, says of which roles a second factor is asked, or says that it is to be deleted.
func (a *App) ChangeSpace(ctx context.Context, person Person, change SpaceChange) error {
	var done []string
	if change.Name != nil {
		name, err := spaceName(*change.Name)
		if err != nil {
			return err
		}
		change.Name = &name
		done = append(done, didRename, "to “"+name+"”")
	}
	if change.FactorOf != nil {
		names := []string{}
		for _, role := range *change.FactorOf {
			if err := role.check(); err != nil {
				return err
			}
			names = append(names, string(role))
		}
		done = append(done, didFactorOf, strings.Join(append(names, "nobody")[:max(1, len(names))], ", "))
	}
	if change.Leaves != nil {
		at := time.Time{}
		if done = append(done, didKeepSpace, "“"+person.SpaceName+"”"); *change.Leaves {
			at = a.now().Add(leaveAfter)
			done[len(done)-2] = didLeaveSpace
		}
		change.LeavesAt = &at
	}
	if err := a.store.ChangeSpace(ctx, person.SpaceID, change); err != nil {
		return err
	}
	for i := 0; i < len(done); i += 2 {
		a.did(ctx, person, done[i], done[i+1])
	}
	return nil
}

// WriteSpace writes a whole space as one file, which another server can read.
func (a *App) WriteSpace(ctx context.Context, person Person, into io.Writer) error {
	a.did(ctx, person, didExportSpace, "“"+person.SpaceName+"”")
	return a.store.WriteSpace(ctx, person.SpaceID, into)
}

// ReadSpace makes a space of such a file, as it arrives; whoever brings it owns it.
func (a *App) ReadSpace(ctx context.Context, person Person, content io.Reader) (Place, error) {
	if err := a.roomForSpace(ctx, person); err != nil {
		return Place{}, err
	}
	if err := a.roomFor(ctx, 0, 0, 0); err != nil {
		return Place{}, err
	}
	spool, err := a.receive(ctx, person, content)
	if err != nil {
		return Place{}, err
	}
	defer func() { _ = spool.Close() }()
	size, err := spool.Seek(0, io.SeekCurrent)
	if err != nil {
		return Place{}, err
	}
	if err := a.roomFor(ctx, 0, size, 0); err != nil {
		return Place{}, err
	}
	place, err := a.store.ReadSpace(ctx, person.ID, spool, size)
	if err == nil {
		person.SpaceID = place.ID
		a.did(ctx, person, didImportSpace, "“"+place.Name+"”")
	}
	return place, err
}

// Members lists who is in a space, owners first. Addresses, and how people sign in, are for owners.
func (a *App) Members(ctx context.Context, person Person) ([]Member, error) {
	list, err := a.store.Members(ctx, person.SpaceID, person.ID)
	if !person.Role.May(Owner) {
		for i, m := range list {
			list[i] = Member{ID: m.ID, Name: m.Name, Role: m.Role, Now: m.Now}
		}
	}
	return list, err
}

// member finds somebody in the space by number.
func (a *App) member(ctx context.Context, person Person, id int64) (Member, error) {
	members, err := a.store.Members(ctx, person.SpaceID, person.ID)
	if err != nil {
		return Member{}, err
	}
	for _, m := range members {
		if m.ID == id {
			return m, nil
		}
	}
	return Member{}, ErrNotFound
}

// SetRole gives somebody in the space another role, at once.
func (a *App) SetRole(ctx context.Context, person Person, id int64, role Role) error {
	if err := role.check(); err != nil {
		return err
	}
	member, err := a.member(ctx, person, id)
	if err != nil {
		return err
	}
	if err := a.store.SetRole(ctx, person.SpaceID, id, role); err != nil {
		return err
	}
	a.did(ctx, person, didRole, fmt.Sprintf("%s (%s): %s, was %s", member.Name, member.Email, role, member.Role))
	return nil
}

// TakeOut takes somebody out of a space, at once; what they made stays with their name.
func (a *App) TakeOut(ctx context.Context, person Person, id int64) error {
	member, err := a.member(ctx, person, id)
	if err != nil {
		return err
	}
	if err := a.store.DropMember(ctx, person.SpaceID, id); err != nil {
		return err
	}
	a.did(ctx, person, didTakeOut, fmt.Sprintf("%s (%s)", member.Name, member.Email))
	return nil
}

// Leave takes whoever asks out of their space.
func (a *App) Leave(ctx context.Context, person Person) error {
	err := a.store.DropMember(ctx, person.SpaceID, person.ID)
	if err == nil {
		a.did(ctx, person, didLeave, "“"+person.SpaceName+"”")
	}
	return err
}

// PutIn puts somebody into a space that there is, for whoever runs the program: somebody who is known by the address, or
// a new person. A space is called by its name; of several with the name none is chosen.
func (a *App) PutIn(ctx context.Context, newcomer NewPerson, space string, role Role, anew bool) (Person, error) {
	named, err := a.store.SpacesNamed(ctx, space)
	bad := role.check()
	switch {
	case err != nil:
		return Person{}, err
	case bad != nil:
		return Person{}, bad
	case anew && len(named) > 0:
		return Person{}, &Invalid{
			Message: fmt.Sprintf("there is a space named %q already", space),
			Advice:  "leave out --new-space to add to it",
		}
	case !anew && len(named) == 0:
		return Person{}, &Invalid{Message: fmt.Sprintf("there is no space named %q", space), Advice: "make it with --new-space"}
	case !anew && len(named) > 1:
		return Person{}, &Invalid{Message: fmt.Sprintf("%d spaces are named %q", len(named), space), Advice: "rename one of them first"}
	}
	known, hash, err := a.store.PersonByEmail(ctx, newcomer.Email)
	if errors.Is(err, ErrNotFound) {
		hash = newcomer.Password
		if known, err = a.AddPerson(ctx, newcomer.Email, newcomer.Name, newcomer.Password, ""); err != nil {
			return known, err
		}
	} else if err != nil {
		return known, err
	}
	known.HasPassword = hash != ""
	if anew {
		place, err := a.store.AddSpace(ctx, known.ID, space)
		known.SpaceID, known.SpaceName, known.Role = place.ID, place.Name, place.Role
		return known, err
	}
	known.SpaceID, known.SpaceName, known.Role = named[0], space, role
	if err := a.store.AddMember(ctx, named[0], known.ID, role); err != nil {
		return known, err
	}
	a.did(ctx, known, didJoin, "as "+string(role)+", put in by whoever runs the program")
	return known, nil
}

// NewPerson is somebody who is to be known.
type NewPerson struct{ Email, Name, Password string }
