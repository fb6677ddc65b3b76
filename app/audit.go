package app

import (
	"context"
	"encoding/csv"
	"io"
	"time"
)

// What the audit keeps, in the words that an owner reads.
const (
	didSignIn       = "signed in"
	didRefuse       = "was refused to sign in"
	didLink         = "made a sign-in link for"
	didPerson       = "added the person"
	didShare        = "shared"
	didWithdraw     = "withdrew"
	didDelete       = "deleted"
	didRenew        = "brought a new file:"
	didOrigin       = "has a dataset's file asked again at"
	didDraw         = "took rows of the table"
	didAskWhole     = "asked all rows of the table"
	didExport       = "took the rows of"
	didSpace        = "made the space"
	didRename       = "renamed the space"
	didFactorOf     = "asks a second factor of"
	didLeaveSpace   = "wants to delete the space, in a week,"
	didKeepSpace    = "keeps the space"
	didExportSpace  = "took the whole space"
	didImportSpace  = "made of a file the space"
	didKey          = "made the key"
	didDropKey      = "took back the key"
	didHook         = "lets be called"
	didDropHook     = "no longer lets be called"
	didRole         = "changed the role of"
	didTakeOut      = "took out"
	didLeave        = "left the space"
	didInvite       = "invited"
	didTakeBack     = "took back"
	didJoin         = "came in"
	didPassword     = "has a new password"
	didPasswordLink = "made a link to a new password for"
	didEndSession   = "ended a session of their own"
	didFactor       = "set up a second factor"
	didDropFactor   = "took away their second factor"
	didRecovery     = "used a recovery code"
	didPasskey      = "made a passkey:"
	didDropPasskey  = "took away a passkey"
)

// deeds are the words of the audit by what they are about, in the order that they are offered in.
var deeds = []struct {
	About string
	Did   []string
}{
	{"signing in", []string{didSignIn, didRefuse, didLink, didPassword, didPasswordLink, didEndSession, didFactor, didDropFactor, didRecovery,
		didPasskey, didDropPasskey}},
	{"people", []string{didPerson, didRole, didTakeOut, didLeave, didInvite, didTakeBack, didJoin, didFactorOf}},
	{"keys and calls", []string{didKey, didDropKey, didHook, didDropHook}},
	{"shares", []string{didShare, didWithdraw}},
	{"what was taken out", []string{didExport, didDraw, didAskWhole, didExportSpace}},
	{"data and the space", []string{didDelete, didRenew, didOrigin, didSpace, didImportSpace, didRename, didLeaveSpace, didKeepSpace}},
}

// AuditAbout names what entries of the audit can be about.
func AuditAbout() []string {
	var names []string
	for _, one := range deeds {
		names = append(names, one.About)
	}
	return names
}

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

// everywhere keeps what somebody did of themselves, in every space that they are in: it matters to all.
func (a *App) everywhere(ctx context.Context, person Person, did, what string) {
	places, err := a.store.Places(context.WithoutCancel(ctx), person.ID)
	if err != nil {
		a.log.ErrorContext(ctx, "the audit could not be written", "did", did, "error", err)
	}
	for _, place := range places {
		person.SpaceID = place.ID
		a.did(ctx, person, did, what)
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

// AuditWanted says which entries of the audit are wanted; what is empty does not matter.
type AuditWanted struct {
	Before   int64     // entries before this one; 0: the newest
	Who      string    // in the name of who did it
	About    string    // one of AuditAbout
	From, To time.Time // when it was done; To itself not
	dids     []string  // of About
}

// Dids are the words that entries must have; none: any.
func (w AuditWanted) Dids() []string { return w.dids }

func (w AuditWanted) withDids() (AuditWanted, error) {
	for _, one := range deeds {
		if one.About == w.About {
			w.dids = one.Did
		}
	}
	if w.About != "" && w.dids == nil {
		return w, &Invalid{Message: "the audit has nothing about that", Advice: "look at all of it"}
	}
	return w, nil
}

// Audit lists what was done in a space, the newest first.
func (a *App) Audit(ctx context.Context, person Person, wanted AuditWanted) ([]AuditEntry, error) {
	wanted, err := wanted.withDids()
	if err != nil {
		return nil, err
	}
	return a.store.Audit(ctx, person.SpaceID, wanted, auditPage)
}

// WriteAudit writes the same, all of it, as CSV.
func (a *App) WriteAudit(ctx context.Context, person Person, wanted AuditWanted, into io.Writer) error {
	wanted, err := wanted.withDids()
	if err != nil {
		return err
	}
	out := csv.NewWriter(into)
	_ = out.Write([]string{"when", "who", "did", "what", "from"})
	for {
		list, err := a.store.Audit(ctx, person.SpaceID, wanted, auditPage)
		if err != nil {
			return err
		}
		for _, entry := range list {
			_ = out.Write([]string{entry.At.UTC().Format(time.RFC3339), harmless(entry.Who), entry.Did, harmless(entry.What), entry.Address})
		}
		if out.Flush(); out.Error() != nil || len(list) < auditPage {
			return out.Error()
		}
		wanted.Before = list[len(list)-1].ID
	}
}

// AuditDays is how many days entries are kept; 0: for ever.
func (a *App) AuditDays() int { return int(a.outside.AuditTime / (24 * time.Hour)) }

// TryDays is after how many days without a change a chart goes that nobody named, kept or shared; 0: it stays.
func (a *App) TryDays() int { return int(a.outside.TryTime / (24 * time.Hour)) }
