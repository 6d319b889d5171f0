package store

import "time"

// OnlinePaymentByKey finds a payment of a client's by the key under which the payment service knows it, or ErrNotFound.
func OnlinePaymentByKey(tx *DB, key string) (*OnlinePayment, error) {
	p := new(OnlinePayment)
	err := tx.gorm.First(p, "key = ?", key).Error
	return p, err
}

// OnlinePaymentsOf lists what a client paid on the page of an invoice, in order.
func OnlinePaymentsOf(tx *DB, invoiceID int64) ([]OnlinePayment, error) {
	rows := []OnlinePayment{}
	err := tx.gorm.Order("id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// UnsettledOnline are the payments of which the service has not said the last word, made before an instant, and those that came back and
// could not be taken back in the books yet.
func UnsettledOnline(tx *DB, before time.Time) ([]OnlinePayment, error) {
	rows := []OnlinePayment{}
	err := tx.gorm.Order("id").Find(&rows, "(state IN ('asked', 'pending') OR state = 'received' AND problem <> '') AND made_at < ?", before).Error
	return rows, err
}

// KeptMethods are the ways of paying of a client that somebody with a mail address has kept, and not ended.
func KeptMethods(tx *DB, clientID int64, mail string) ([]PaymentMethod, error) {
	rows := []PaymentMethod{}
	err := tx.gorm.Order("id").Find(&rows, "client_id = ? AND LOWER(mail) = LOWER(?) AND agreed <> '' AND active AND ended_at IS NULL", clientID,
		mail).Error
	return rows, err
}
