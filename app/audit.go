package app

import "context"

// What the audit keeps, in the words that an owner reads.
const (
	didSignIn   = "signed in"
	didRefuse   = "was refused to sign in"
	didLink     = "made a sign-in link for"
	didPerson   = "added the person"
	didShare    = "shared"
	didWithdraw = "withdrew"
	didDelete   = "deleted"
	didRenew    = "brought a new file:"
)

// did keeps what somebody did. It is told after it was done, so a lost database is
// written to the log and undoes nothing.
func (a *App) did(ctx context.Context, person Person, did, what string) {
	who := person.Name
	if who == "" {
		who = person.Email
	}
	entry := AuditEntry{
		SpaceID:  person.SpaceID,
		PersonID: person.ID,
		Who:      short(who, 200),
		Did:      did,
		What:     short(what, 500),
		Address:  callerOf(ctx).Address,
	}
	if err := a.store.AddAudit(context.WithoutCancel(ctx), entry); err != nil {
		a.log.ErrorContext(ctx, "the audit could not be written", "did", did, "error", err)
	}
}

func short(text string, most int) string {
	if runes := []rune(text); len(runes) > most {
		return string(runes[:most]) + "…"
	}
	return text
}

// auditPage is how many entries one look at the audit gives.
const auditPage = 100

// Audit lists what was done in a space, for its owners: those before an entry, or the
// newest for 0.
func (a *App) Audit(ctx context.Context, person Person, before int64) ([]AuditEntry, error) {
	if person.Role != "owner" {
		return nil, ErrNotAllowed
	}
	return a.store.Audit(ctx, person.SpaceID, before, auditPage)
}
