package app

import "fmt"

// Role is what somebody may do in a space.
type Role string

// The roles, each of which may do what those before it may. NoRole is somebody who is not in the space.
const (
	NoRole Role = ""
	Reader Role = "reader"
	Maker  Role = "maker"
	Owner  Role = "owner"
)

// Roles are all roles with what they mean, the least first. What each may ask of the server stands in the server's
// list of routes.
var Roles = []struct {
	Role  Role
	Means string
}{
	{Reader, "opens the charts and tables of this space, hovers, and tries other sentences; keeps and shares nothing"},
	{Maker, "brings tables, makes, keeps and shares charts"},
	{Owner, "all of that, and invites, takes out, and sees what was done here"},
}

// rank is a role's place in the list from 1 on; 0 for what is none.
func (r Role) rank() int {
	for i, one := range Roles {
		if one.Role == r {
			return i + 1
		}
	}
	return 0
}

// check says what is wrong with a role that somebody named; nil: nothing.
func (r Role) check() error {
	if r.rank() == 0 {
		return &Invalid{Message: fmt.Sprintf("%q is no role", r), Advice: "roles are reader, maker and owner"}
	}
	return nil
}

// May reports whether a role may do what is for another one and those above it.
func (r Role) May(least Role) bool { return r.rank() > 0 && r.rank() >= least.rank() }
