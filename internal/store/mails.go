package store

import "time"

// InsertMails writes mails with their links and files.
func InsertMails(tx *DB, mails []Mail) error {
	if len(mails) == 0 {
		return nil
	}
	if err := Insert(tx, mails); err != nil {
		return err
	}
	links, files := []MailLink{}, []MailFile{}
	for _, m := range mails {
		for _, l := range m.Links {
			l.MailID = m.ID
			links = append(links, l)
		}
		for i, f := range m.Files {
			f.MailID, f.Position = m.ID, i
			files = append(files, f)
		}
	}
	if err := Insert(tx, links); err != nil {
		return err
	}
	return Insert(tx, files)
}

// WithParts reads what goes with a mail: its links and files.
func WithParts(tx *DB, m *Mail) error {
	if err := tx.gorm.Order("mark").Find(&m.Links, "mail_id = ?", m.ID).Error; err != nil {
		return err
	}
	return tx.gorm.Order("position").Find(&m.Files, "mail_id = ?", m.ID).Error
}

// QueuedMails are those to be delivered, oldest first.
func QueuedMails(tx *DB) ([]Mail, error) {
	mails := []Mail{}
	err := tx.gorm.Order("id").Find(&mails, "state = 'queued'").Error
	return mails, err
}

// UndeliveredMails are those that were tried and not taken, latest first.
func UndeliveredMails(tx *DB) ([]Mail, error) {
	mails := []Mail{}
	err := tx.gorm.Order("id DESC").Limit(500).Find(&mails, "state = 'failed' OR state = 'queued' AND tries > 0").Error
	return mails, err
}

// MailList lists mails, latest first; of a proposal or client, or all (0).
func MailList(tx *DB, proposalID, clientID int64, most int) ([]Mail, error) {
	mails := []Mail{}
	query := tx.gorm.Order("id DESC").Limit(most)
	if proposalID != 0 {
		query = query.Where("proposal_id = ?", proposalID)
	}
	if clientID != 0 {
		query = query.Where("client_id = ?", clientID)
	}
	err := query.Find(&mails).Error
	return mails, err
}

// MailByKey finds the mail of which a report speaks, or ErrNotFound.
func MailByKey(tx *DB, key string) (*Mail, error) {
	m := new(Mail)
	err := tx.gorm.First(m, "return_key = ? AND return_key <> ''", key).Error
	return m, err
}

// MailsOfDelivery reads the mail of a delivery, or nothing.
func MailsOfDelivery(tx *DB, deliveryIDs []int64) ([]Mail, error) {
	mails := []Mail{}
	err := tx.gorm.Order("id").Find(&mails, "delivery_id IN ?", many(deliveryIDs)).Error
	return mails, err
}

// WriteMail writes how the delivery of a mail went.
func WriteMail(tx *DB, m *Mail) error {
	return tx.gorm.Model(m).Where("id = ?", m.ID).Select("state", "tries", "problem", "sent_at", "next_at").Updates(m).Error
}

// InsertNotices writes notices; those of people who want it so wait to be mailed, too.
func InsertNotices(tx *DB, notices []Notice) error {
	if len(notices) == 0 {
		return nil
	}
	wanting := map[int64]bool{}
	ids := []int64{}
	if err := tx.gorm.Raw("SELECT id FROM main.people WHERE active AND notice_mails <> '' AND mail <> ''").Scan(&ids).Error; err != nil {
		return err
	}
	for _, id := range ids {
		wanting[id] = true
	}
	for i := range notices {
		if n := &notices[i]; n.Mail == "" && wanting[n.PersonID] {
			n.Mail = "waits"
		}
	}
	return Insert(tx, notices)
}

// NoticeToMail is a notice that waits to be mailed to its person.
type NoticeToMail struct {
	Notice
	Name, Address string
	Daily         bool // they want one letter a day
}

// NoticesToMail lists the notices that wait to be mailed, by person, oldest first.
func NoticesToMail(tx *DB) ([]NoticeToMail, error) {
	rows := []NoticeToMail{}
	err := tx.gorm.Raw(`SELECT n.*, p.name, p.mail AS address, p.notice_mails = 'daily' AS daily FROM notices n JOIN people p ON p.id = n.person_id
		WHERE n.mail = 'waits' ORDER BY n.person_id, n.id`).Scan(&rows).Error
	return rows, err
}

// NoticesMailed notes that notices were mailed, and says how many were not before.
func NoticesMailed(tx *DB, ids []int64) (int64, error) {
	done := tx.gorm.Exec("UPDATE main.notices SET mail = 'sent' WHERE id IN ? AND mail = 'waits'", many(ids))
	return done.RowsAffected, done.Error
}

// KeepNoticesHere mails no notices to a person that wait to be mailed.
func KeepNoticesHere(tx *DB, personID int64) error {
	return tx.gorm.Exec("UPDATE main.notices SET mail = '' WHERE person_id = ? AND mail = 'waits'", personID).Error
}

// MailedSince reports whether a mail of a kind went to an address since an instant.
func MailedSince(tx *DB, kind, address string, since time.Time) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM mails WHERE kind = ? AND to_mail = ? AND made_at >= ?", kind, address, since)
	return n > 0, err
}
