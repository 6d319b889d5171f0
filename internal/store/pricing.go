package store

import (
	"errors"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
)

// inProposalSight holds for a proposal p that may be seen.
const inProposalSight = "(@all OR p.lead_id IN @leads)"

// ProposalRow is a proposal in a list.
type ProposalRow struct {
	Proposal
	Client, Lead string
	Questions    int // not answered yet
}

// Proposals lists what may be seen of a client's, or of all (0), latest first.
func Proposals(tx *DB, clientID int64) ([]ProposalRow, error) {
	rows := []ProposalRow{}
	err := tx.gorm.Raw(`SELECT p.*, c.name AS client, l.name AS lead,
			(SELECT COUNT(*) FROM proposal_questions q WHERE q.proposal_id = p.id AND q.answered_at IS NULL) AS questions
		FROM proposals p JOIN clients c ON c.id = p.client_id JOIN people l ON l.id = p.lead_id
		WHERE `+inProposalSight+` AND (@client = 0 OR p.client_id = @client) ORDER BY p.id DESC`,
		tx.scoped(map[string]any{"client": clientID})).Scan(&rows).Error
	return rows, err
}

// ProposalSeen reads a proposal that may be seen, or ErrNotFound.
func ProposalSeen(tx *DB, id int64) (*Proposal, error) {
	found := []Proposal{}
	err := tx.gorm.Raw(`SELECT p.* FROM proposals p WHERE p.id = @id
		AND `+inProposalSight, tx.scoped(map[string]any{"id": id})).Scan(&found).Error
	if err == nil && len(found) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &found[0], nil
}

// DraftsOf lists the versions of a proposal's content, latest first.
func DraftsOf(tx *DB, proposalID int64) ([]ProposalDraft, error) {
	drafts := []ProposalDraft{}
	err := tx.gorm.Order("draft DESC").Find(&drafts, "proposal_id = ?", proposalID).Error
	return drafts, err
}

// DraftOf reads one version.
func DraftOf(tx *DB, proposalID int64, draft int) (*ProposalDraft, error) {
	record := new(ProposalDraft)
	err := tx.gorm.First(record, "proposal_id = ? AND draft = ?", proposalID, draft).Error
	return record, err
}

// WriteDraft replaces the content of a version.
func WriteDraft(tx *DB, d *ProposalDraft) error {
	return tx.gorm.Model(d).Where("id = ?", d.ID).Select("content", "at", "person_id").Updates(d).Error
}

// DropProposal deletes a draft that was never sent.
func DropProposal(tx *DB, id int64) error {
	if err := tx.gorm.Exec("UPDATE main.proposals SET made_from_id = NULL WHERE made_from_id = ?", id).Error; err != nil {
		return err
	}
	return errors.Join(tx.gorm.Exec("DELETE FROM main.proposal_drafts WHERE proposal_id = ?", id).Error,
		tx.gorm.Exec("DELETE FROM main.proposal_questions WHERE proposal_id = ?", id).Error,
		tx.gorm.Exec("DELETE FROM main.proposals WHERE id = ?", id).Error)
}

// AnswerOf is the answer to a proposal, or nil.
func AnswerOf(tx *DB, proposalID int64) (*ProposalAnswer, error) {
	found := []ProposalAnswer{}
	err := tx.gorm.Limit(1).Find(&found, "proposal_id = ?", proposalID).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// QuestionsOn lists what was asked about a proposal, in order.
func QuestionsOn(tx *DB, proposalID int64) ([]ProposalQuestion, error) {
	questions := []ProposalQuestion{}
	err := tx.gorm.Order("id").Find(&questions, "proposal_id = ?", proposalID).Error
	return questions, err
}

// ReplacedBy is the number of the proposal that takes another's place, or 0.
func ReplacedBy(tx *DB, proposalID int64) (id int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(id), 0) FROM proposals WHERE replaces_id = ?", proposalID).Scan(&id).Error
	return id, err
}

// LinkOf finds a link by the digest of its secret.
func LinkOf(tx *DB, digest string) (*Link, error) {
	link := new(Link)
	err := tx.gorm.First(link, "digest = ?", digest).Error
	return link, err
}

// LinksTo lists the links to a thing.
func LinksTo(tx *DB, purpose string, subjectID int64) ([]Link, error) {
	links := []Link{}
	err := tx.gorm.Order("id").Find(&links, "purpose = ? AND subject_id = ?", purpose, subjectID).Error
	return links, err
}

// WithdrawLinks ends all links to a thing.
func WithdrawLinks(tx *DB, purpose string, subjectID int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.links SET withdrawn_at = ? WHERE purpose = ? AND subject_id = ? AND withdrawn_at IS NULL", at, purpose,
		subjectID).Error
}

// SetCode writes the code of a link.
func SetCode(tx *DB, l *Link) error {
	return tx.gorm.Model(l).Where("id = ?", l.ID).Select("code_digest", "code_expires_at", "code_tries", "code_mail").Updates(l).Error
}

// WithdrawWith ends a link and those that were opened from what it opens.
func WithdrawWith(tx *DB, l *Link, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.links SET withdrawn_at = ? WHERE (id = ? OR from_id = ?) AND withdrawn_at IS NULL", at, l.ID, l.ID).Error
}

// SetLinkSeen writes when a link was first opened.
func SetLinkSeen(tx *DB, l *Link) error {
	return tx.gorm.Model(l).Where("id = ?", l.ID).Select("seen_at").Updates(l).Error
}

// PassingsOf lists to whom a client asks to pass a proposal on, in order.
func PassingsOf(tx *DB, proposalID int64) ([]ProposalPassing, error) {
	rows := []ProposalPassing{}
	err := tx.gorm.Order("id").Find(&rows, "proposal_id = ? AND state = 'asked'", proposalID).Error
	return rows, err
}

// AddressesOf are the mail addresses that the firm has of a client and its contacts.
func AddressesOf(tx *DB, clientID int64) ([]string, error) {
	found := []string{}
	err := tx.gorm.Raw("SELECT mail FROM clients WHERE id = @client AND mail <> '' UNION SELECT mail FROM contacts WHERE client_id = "+
		"@client AND active AND mail <> ''", map[string]any{"client": clientID}).Scan(&found).Error
	return found, err
}

// CountTry counts a try of a link's code, if any are left, and says whether one was.
func CountTry(tx *DB, linkID int64, most int) (bool, error) {
	done := tx.gorm.Exec("UPDATE main.links SET code_tries = code_tries + 1 WHERE id = ? AND code_tries < ?", linkID, most)
	return done.RowsAffected == 1, done.Error
}

// ChargesOf lists the plan of an engagement by bill date, deposits first; what
// waits for an event comes last.
func ChargesOf(tx *DB, engagementID int64) ([]Charge, error) {
	charges := []Charge{}
	err := tx.gorm.Order("bill_day = '', bill_day, kind <> 'deposit', position, id").Find(&charges, "engagement_id = ?", engagementID).Error
	return charges, err
}

// EngagementsFrom lists the engagements that a proposal made.
func EngagementsFrom(tx *DB, proposalID int64) ([]Engagement, error) {
	made := []Engagement{}
	err := tx.gorm.Order("id").Find(&made, "proposal_id = ?", proposalID).Error
	return made, err
}

// OutProposal is a proposal that its client can answer, with its first year, net.
type OutProposal struct {
	Client, Name string
	Currency     money.Currency
	FirstYear    int64
}

// OutProposals reads the proposals that their clients can answer on a day.
func OutProposals(tx *DB, on day.Day) ([]OutProposal, error) {
	out := []OutProposal{}
	err := tx.gorm.Raw(`SELECT c.name AS client, p.name, p.currency, p.first_year FROM proposals p JOIN clients c ON c.id = p.client_id
		WHERE p.state IN ('sent', 'seen') AND (p.valid_until = '' OR p.valid_until >= @on) AND `+inProposalSight+` ORDER BY p.id DESC`,
		tx.scoped(map[string]any{"on": on.String()})).Scan(&out).Error
	return out, err
}

// AnsweredSince counts the proposals that were answered from a day on.
func AnsweredSince(tx *DB, from day.Day) (n int, err error) {
	err = tx.gorm.Raw(`SELECT COUNT(*) FROM proposals p WHERE p.answered_day >= @from
		AND `+inProposalSight, tx.scoped(map[string]any{"from": from.String()})).Scan(&n).Error
	return n, err
}

// PaymentMethodsOf lists a client's ways of paying.
func PaymentMethodsOf(tx *DB, clientID int64) ([]PaymentMethod, error) {
	ways := []PaymentMethod{}
	err := tx.gorm.Order("id").Find(&ways, "client_id = ? AND active", clientID).Error
	return ways, err
}

// QuestionnairesOf lists what a client was asked.
func QuestionnairesOf(tx *DB, clientID int64) ([]ClientQuestionnaire, error) {
	sent := []ClientQuestionnaire{}
	err := tx.gorm.Order("id DESC").Find(&sent, "client_id = ?", clientID).Error
	return sent, err
}

// TextsFor lists the active texts of a purpose.
func TextsFor(tx *DB, purpose string) ([]ProposalText, error) {
	texts := []ProposalText{}
	err := tx.gorm.Order("id").Find(&texts, "purpose = ? AND active", purpose).Error
	return texts, err
}

// StandardRates reads the rates of firm, grades and people, billing and cost.
func StandardRates(tx *DB) ([]Rate, error) {
	rates := []Rate{}
	err := tx.gorm.Find(&rates, "card_id IS NULL AND level IN (?, ?, ?)", rate.Firm, rate.Grade, rate.Person).Error
	return rates, err
}

// ContactsOf lists the active contacts of a client, the main one first; those
// of one engagement alone are left out.
func ContactsOf(tx *DB, clientID int64) ([]Contact, error) {
	contacts := []Contact{}
	err := tx.gorm.Order("id").Find(&contacts, "client_id = ? AND engagement_id IS NULL AND active", clientID).Error
	return contacts, err
}

// Knows reports whether the firm has worked for a client.
func Knows(tx *DB, clientID int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM engagements WHERE client_id = ?", clientID)
	return n > 0, err
}

// DropLink forgets a link that was never sent.
func DropLink(tx *DB, id int64) error {
	return tx.gorm.Exec("DELETE FROM main.links WHERE id = ?", id).Error
}
