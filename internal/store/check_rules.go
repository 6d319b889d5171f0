package store

// A conservation is a rule that is true after every act, and the rows that
// break it: each gives a number and words for what is wrong.
type conservation struct {
	rule, breaches string
}

// balances is what every bucket of the work ledger holds of every portion.
const balances = `WITH moved AS (
		SELECT portion_id, to_bucket AS bucket, minutes, standard, agreed FROM work_movements
		UNION ALL SELECT portion_id, from_bucket, -minutes, -standard, -agreed FROM work_movements),
	balances AS (SELECT portion_id, bucket, SUM(minutes) AS minutes, SUM(standard) AS standard, SUM(agreed) AS agreed
		FROM moved WHERE bucket <> 'recorded' GROUP BY portion_id, bucket),
	expected AS (SELECT id, CASE
			WHEN removed THEN 'gone' WHEN billing = 'reserved' THEN 'unbilled'
			WHEN billing = 'billed' AND treatment = 'no_charge' THEN 'written_down' WHEN billing = 'billed' AND covered THEN 'covered'
			WHEN billing = 'written_off' AND written_down THEN 'written_down' ELSE billing END AS bucket,
		minutes, standard, agreed FROM portions) `

var conservations = []conservation{
	{"an invoice has come as far as its deliveries say", `
		SELECT i.id, 'it stands as ' || i.handed || ', its deliveries say ' || COALESCE(y.says, 'nothing') AS what FROM invoices i
		LEFT JOIN (SELECT x.invoice_id, x.revision, CASE
				WHEN MAX(x.fetched_at IS NOT NULL) THEN 'fetched' WHEN MAX(x.opened_at IS NOT NULL) THEN 'opened'
				WHEN MAX(d.state = 'arrived') THEN 'arrived' WHEN MAX(d.state = 'taken') THEN 'taken' WHEN MAX(d.state = 'posted') THEN 'posted'
				WHEN MAX(d.state = 'saved') THEN 'saved' WHEN MAX(d.state = 'queued') THEN 'queued' WHEN MAX(d.state = 'failed') THEN 'failed'
				ELSE '' END AS says
			FROM delivered x JOIN deliveries d ON d.id = x.delivery_id AND d.kind IN ('invoice', 'credit_note') GROUP BY x.invoice_id, x.revision) y
			ON y.invoice_id = i.id AND y.revision = i.revision AND i.state IN ('issued', 'part_paid', 'paid')
		WHERE i.handed <> CASE WHEN COALESCE(y.says, '') = '' AND i.handed_before THEN 'before' ELSE COALESCE(y.says, '') END`},
	{"a delivery by mail is as far as its mail", `
		SELECT d.id, 'it is ' || d.state || ', its mail ' || COALESCE(m.state, 'is not there') AS what FROM deliveries d
		LEFT JOIN mails m ON m.delivery_id = d.id WHERE d.way = 'mail'
			AND d.state <> COALESCE(CASE m.state WHEN 'sent' THEN 'taken' ELSE m.state END, '')`},
	{"every reminder has its letter", `
		SELECT r.id, 'of invoice ' || r.invoice_id || ' on ' || r.day || ' went in no letter' AS what FROM reminders r
		WHERE NOT EXISTS (SELECT 1 FROM deliveries d JOIN delivered x ON x.delivery_id = d.id AND x.invoice_id = r.invoice_id
			WHERE d.act_id = r.act_id AND d.kind = 'reminder')`},
	{"what a client paid on a page is one payment, as long as it did not come back", `
		SELECT o.id, o.state || ' over ' || (o.amount + o.gift) || ', its payment ' || COALESCE(p.amount, 'is not there') AS what FROM online_payments o
		LEFT JOIN payments p ON p.id = o.payment_id
		WHERE o.state = 'received' AND p.id IS NULL OR o.state IN ('asked', 'pending', 'failed') AND p.id IS NOT NULL
			OR o.state = 'returned' AND p.id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM payments b WHERE b.reverses_id = p.id)
			OR p.id IS NOT NULL AND (p.amount <> o.amount + o.gift OR p.currency <> o.currency OR p.client_id <> o.client_id)`},
	{"a statement of a bank adds up", `
		SELECT s.id, s.number || ' ends with ' || s.closing || ', its entries say ' || (s.opening + COALESCE(SUM(n.amount), 0)) AS what
		FROM bank_statements s LEFT JOIN bank_entries n ON n.statement_id = s.id GROUP BY s.id
		HAVING s.closing <> s.opening + COALESCE(SUM(n.amount), 0)`},
	{"what a bank's entry was taken for comes to the entry", `
		SELECT n.id, n.state || ' over ' || n.amount || ', taken for ' || COALESCE(SUM(COALESCE(p.amount, t.amount, e.amount)), 'nothing') AS what
		FROM bank_entries n LEFT JOIN bank_matches b ON b.entry_id = n.id LEFT JOIN payments p ON p.id = b.payment_id
		LEFT JOIN transfers t ON t.id = b.transfer_id LEFT JOIN reimbursements e ON e.id = b.reimbursement_id GROUP BY n.id
		HAVING (n.state = 'taken') <> (COUNT(b.id) > 0) OR n.state = 'taken' AND ABS(n.amount) <> ABS(SUM(COALESCE(p.amount, t.amount, e.amount)))
			OR n.state = 'taken' AND SUM(p.id IS NOT NULL AND p.reverses_id IS NULL AND EXISTS (SELECT 1 FROM payments z WHERE z.reverses_id = p.id
				AND NOT EXISTS (SELECT 1 FROM bank_matches y WHERE y.payment_id = z.id))) > 0`},
	{"a charge for paying late is what it came to, and one that is waived is not billed", `
		SELECT x.id, 'of invoice ' || x.invoice_id || ' over ' || x.amount || ', its charge is ' || COALESCE(g.state || ' over ' || g.amount, 'none') AS what
		FROM late_charges x LEFT JOIN charges g ON g.id = x.charge_id
		WHERE x.amount <= 0 OR g.id IS NULL AND x.waived = '' OR g.id IS NOT NULL AND ((g.amount, g.currency, g.late_id) IS NOT (x.amount, x.currency,
			x.invoice_id) OR (g.state = 'waived') <> (x.waived <> ''))
		UNION ALL SELECT g.id, 'nothing says what it is for' FROM charges g WHERE g.late_id IS NOT NULL
			AND NOT EXISTS (SELECT 1 FROM late_charges x WHERE x.charge_id = g.id)`},
	{"what is written off of an invoice is what the ledger says, and was written off by an act", `
		SELECT i.id, i.number_text || ' has ' || i.written_off || ' written off, the ledger ' || COALESCE(m.lost, 0) AS what FROM invoices i
		LEFT JOIN (SELECT invoice_id, SUM(CASE WHEN to_bucket IN ('bad_debt', 'bad_debt_tax') THEN amount ELSE -amount END) AS lost
			FROM money_movements WHERE 'bad_debt' IN (from_bucket, to_bucket) OR 'bad_debt_tax' IN (from_bucket, to_bucket)
			GROUP BY invoice_id) m ON m.invoice_id = i.id
		LEFT JOIN (SELECT invoice_id, SUM(net + tax) AS given FROM write_offs GROUP BY invoice_id) w ON w.invoice_id = i.id
		WHERE i.written_off <> COALESCE(m.lost, 0) OR i.written_off < 0 OR i.written_off > COALESCE(w.given, 0)`},
	{"what a person is paid back is what they paid, once", `
		SELECT r.id, 'paid back ' || r.amount || ', its purchases ' || COALESCE(SUM(x.amount), 0) AS what FROM reimbursements r
		LEFT JOIN reimbursed x ON x.reimbursement_id = r.id GROUP BY r.id HAVING r.amount <> COALESCE(SUM(x.amount), 0)
		UNION ALL SELECT x.purchase_id, 'paid back ' || COUNT(*) || ' times, of ' || MAX(u.paid_by) FROM reimbursed x JOIN reimbursements r
			ON r.id = x.reimbursement_id AND NOT r.taken_back JOIN purchases u ON u.id = x.purchase_id GROUP BY x.purchase_id
		HAVING COUNT(*) > 1 OR MAX(u.paid_by) <> 'person' OR MAX(u.removed) OR MAX(x.amount) <> MAX(CAST(json_extract(u.paid, '$.amount.minor') AS INTEGER))`},
	{"an order to a bank is the sum of its payments", `
		SELECT o.id, o.name || ' is over ' || o.total || ', its payments ' || COALESCE(SUM(x.amount), 0) AS what FROM bank_orders o
		LEFT JOIN ordered x ON x.order_id = o.id GROUP BY o.id HAVING o.total <> COALESCE(SUM(x.amount), 0)`},
	{"what is disputed is what its client disputes", `
		SELECT i.id, i.number_text || ' disputes ' || i.disputed_amount || ' of ' || i.open AS what FROM invoices i
		WHERE i.disputed_amount < 0 OR i.disputed_amount > 0 AND i.disputed = '' OR EXISTS (SELECT 1 FROM claims k WHERE k.invoice_id = i.id
			AND k.kind = 'dispute' AND k.outcome = '') AND i.disputed = '' AND i.open > 0 AND i.state IN ('issued', 'part_paid')`},
	{"every portion lies in the bucket that its state says, with its value", balances + `
		SELECT e.id, 'portion is ' || e.bucket || ' with ' || e.agreed || ', its movements say ' || COALESCE(b.agreed, 'nothing') AS what
		FROM expected e LEFT JOIN balances b ON b.portion_id = e.id AND b.bucket = e.bucket
		WHERE e.bucket <> 'gone' AND (e.minutes, e.standard, e.agreed) IS NOT (COALESCE(b.minutes, 0), COALESCE(b.standard, 0),
			COALESCE(b.agreed, 0))`},
	{"a portion lies in one bucket only", balances + `
		SELECT e.id, 'portion is ' || e.bucket || ' but ' || b.agreed || ' lies in ' || b.bucket AS what
		FROM expected e JOIN balances b ON b.portion_id = e.id AND b.bucket <> e.bucket
		WHERE b.minutes <> 0 OR b.standard <> 0 OR b.agreed <> 0`},
	{"the portions of an entry add up to it", `
		SELECT t.id, 'entry has ' || t.agreed || ', its portions ' || COALESCE(SUM(p.agreed), 0) AS what
		FROM time_entries t LEFT JOIN portions p ON p.source = 'time' AND p.source_id = t.id AND p.removed = FALSE
		WHERE t.removed = FALSE GROUP BY t.id
		HAVING t.agreed <> COALESCE(SUM(p.agreed - p.adjusted), 0) OR t.standard <> COALESCE(SUM(p.standard), 0)
			OR t.billed_minutes <> COALESCE(SUM(p.minutes - p.adjusted_minutes), 0)`},
	{"the portion of an expense is what it is worth", `
		SELECT x.id, 'expense has ' || x.agreed || ', its portions ' || COALESCE(SUM(p.agreed), 0) AS what
		FROM expenses x LEFT JOIN portions p ON p.source = 'expense' AND p.source_id = x.id AND p.removed = FALSE
		WHERE x.removed = FALSE GROUP BY x.id
		HAVING (x.engagement_id IS NULL) <> (COUNT(p.id) = 0) OR x.engagement_id IS NOT NULL
			AND (x.agreed <> COALESCE(SUM(p.agreed - p.adjusted), 0) OR x.standard <> COALESCE(SUM(p.standard), 0))`},
	{"the shares of a purchase add up to its cost", `
		SELECT u.id, 'purchase has a cost of ' || u.cost || ', its shares ' || COALESCE(SUM(x.cost), 0) AS what
		FROM purchases u LEFT JOIN expenses x ON x.purchase_id = u.id AND x.removed = FALSE GROUP BY u.id
		HAVING CASE WHEN u.removed THEN 0 ELSE u.cost END <> COALESCE(SUM(x.cost), 0) OR u.cost <> CAST(json_extract(u.paid,
			'$.amount.minor') - json_extract(u.paid, '$.tax.minor') AS INTEGER)`},
	{"entries are as far as their week sheet", `
		SELECT t.id, 'entry is ' || t.approval || ' in a week that is ' || COALESCE(s.state, 'open') AS what
		FROM time_entries t LEFT JOIN week_sheets s ON s.person_id = t.person_id AND s.monday = date(t.day, 'weekday 0', '-6 days')
		WHERE t.removed = FALSE AND CASE COALESCE(s.state, 'open') WHEN 'open' THEN t.approval <> 'open'
			WHEN 'submitted' THEN t.approval = 'open' ELSE t.approval <> 'approved' END`},
	{"beside an engagement stands when it was billed", `
		SELECT x.invoice_id AS id, 'invoice says ' || i.state || ' of ' || i.dated || ', the engagement ' || x.billed_day AS what
		FROM invoice_engagements x JOIN invoices i ON i.id = x.invoice_id
		WHERE x.billed_day <> CASE WHEN i.kind = 'invoice' AND i.state IN ('issued', 'part_paid', 'paid') THEN i.dated ELSE '' END`},
	{"what time comes to by month is the sum of its entries", `
		SELECT engagement_id AS id, month || ' ' || currency || ' is off by ' || SUM(entries) || ' entries, ' || SUM(minutes) ||
			' minutes, ' || SUM(agreed) AS what
		FROM (SELECT engagement_id, month, currency, entries, worked_minutes AS minutes, expected_minutes AS expected, agreed
				FROM time_months
			UNION ALL SELECT engagement_id, substr(day, 1, 7), currency, -1, -worked_minutes, -expected_minutes, -agreed FROM time_entries
				WHERE removed = FALSE)
		GROUP BY engagement_id, month, currency HAVING (SUM(entries), SUM(minutes), SUM(expected), SUM(agreed)) <> (0, 0, 0, 0)`},
	{"nobody has two timers running", `
		SELECT person_id AS id, COUNT(*) || ' timers run' AS what FROM timers WHERE running_since IS NOT NULL AND NOT stopped
			GROUP BY person_id
			HAVING COUNT(*) > 1`},
	{"what is reserved is on a draft, what is billed on an issued invoice, nothing else on either", `
		SELECT p.id, 'portion is ' || p.billing || ', its invoice is ' || COALESCE(i.state, 'none') AS what
		FROM portions p LEFT JOIN invoice_lines l ON l.id = p.line_id LEFT JOIN invoices i ON i.id = l.invoice_id
		WHERE CASE p.billing WHEN 'reserved' THEN COALESCE(i.state, '') NOT IN ('draft', 'in_approval', 'approved')
			WHEN 'billed' THEN COALESCE(i.state, '') NOT IN ('issued', 'part_paid', 'paid') ELSE p.line_id IS NOT NULL END`},
	{"the portions of a line of time or expenses add up to it, less what is credited to be billed again", `
		SELECT l.id, 'line has ' || l.amount || ', its portions ' || COALESCE(p.agreed, 0) AS what FROM invoice_lines l
			JOIN invoices i ON i.id = l.invoice_id AND i.kind = 'invoice'
		LEFT JOIN (SELECT line_id, SUM(agreed) AS agreed, SUM(minutes) AS minutes FROM portions GROUP BY line_id) p ON p.line_id = l.id
		LEFT JOIN (SELECT credits_line_id AS line_id, SUM(amount) AS amount FROM invoice_lines WHERE again
			GROUP BY credits_line_id) c ON c.line_id = l.id
		WHERE l.kind IN ('time', 'expense') AND (l.amount - COALESCE(c.amount, 0) <> COALESCE(p.agreed, 0) OR c.line_id IS NULL
			AND l.minutes <> COALESCE(p.minutes, 0))`},
	{"only a fee covers time, and covers nothing else", `
		SELECT p.id, 'portion of ' || p.source || ' is covered by a line of ' || l.kind AS what FROM portions p
			JOIN invoice_lines l ON l.id = p.line_id
		WHERE p.covered <> (l.kind IN ('fixed', 'recurring', 'progress')) OR p.covered AND p.source <> 'time'`},
	{"a charge is on one line that is not deleted, and as far as its invoice", `
		SELECT c.id, 'charge is ' || c.state || ', on ' || COUNT(i.id) || ' invoices, the last ' || COALESCE(MAX(i.state), 'none') AS what
			FROM charges c
		LEFT JOIN invoice_lines l ON l.charge_id = c.id AND NOT EXISTS (SELECT 1 FROM invoice_lines k WHERE k.credits_line_id = l.id
			AND k.again)
			LEFT JOIN invoices i ON i.id = l.invoice_id
		WHERE c.kind <> 'deposit' GROUP BY c.id
		HAVING CASE c.state WHEN 'planned' THEN COUNT(i.id) <> 0 WHEN 'reserved' THEN COUNT(i.id) <> 1 OR MAX(i.state) NOT IN ('draft',
			'in_approval', 'approved')
			WHEN 'billed' THEN COUNT(i.id) <> 1 OR MAX(i.state) NOT IN ('issued', 'part_paid', 'paid') ELSE COUNT(i.id) <> 0 END`},
	{"the lines of an invoice add up to it, and net and tax to its total", `
		SELECT i.id, 'invoice has lines of ' || i.lines || ', they are ' || COALESCE(SUM(l.amount), 0) AS what
		FROM invoices i LEFT JOIN invoice_lines l ON l.invoice_id = i.id WHERE i.state <> 'deleted' GROUP BY i.id
		HAVING i.lines <> COALESCE(SUM(l.amount), 0) OR i.net + i.tax <> i.total OR i.total - i.withholding - i.credit - i.funds <> i.due`},
	{"no more of a line is credited, or taken back of an advance, than there is", `
		SELECT l.id, 'line has ' || l.amount || ', credited ' || SUM(k.amount) AS what FROM invoice_lines l
			JOIN invoice_lines k ON k.credits_line_id = l.id
		GROUP BY l.id HAVING ABS(SUM(k.amount)) > ABS(l.amount) OR SUM(k.amount) <> 0 AND (SUM(k.amount) < 0) <> (l.amount < 0)
		UNION ALL SELECT l.id, 'advance has ' || l.amount || ', came back ' || SUM(b.amount) FROM invoice_lines l
			JOIN invoice_lines b ON b.advance_line_id = l.id JOIN invoices j ON j.id = b.invoice_id AND j.state <> 'deleted'
		GROUP BY l.id HAVING SUM(b.amount - COALESCE((SELECT SUM(k.amount) FROM invoice_lines k WHERE k.credits_line_id = b.id),
			0)) + l.amount < 0`},
	{"what credit notes took of an invoice stands on it", `
		SELECT i.id, 'invoice is credited ' || i.credited || ', its notes are ' || COALESCE(SUM(n.total), 0) AS what FROM invoices i
		LEFT JOIN invoices n ON n.credits_id = i.id AND n.state <> 'deleted' GROUP BY i.id HAVING i.credited <> COALESCE(SUM(n.total), 0)`},
	{"an accepted proposal has its acceptance and engagements, another has neither", `
		SELECT p.id, 'proposal is ' || p.state || CASE WHEN a.accepted THEN ', it was accepted' ELSE ', nobody accepted it' END AS what
		FROM proposals p LEFT JOIN proposal_answers a ON a.proposal_id = p.id
		WHERE (p.state = 'accepted') IS NOT COALESCE(a.accepted, FALSE) OR (p.state = 'accepted') IS NOT EXISTS (SELECT 1 FROM engagements e
			WHERE e.proposal_id = p.id)`},
	{"the charges of an accepted proposal add up to what was agreed", `
		SELECT a.proposal_id AS id, 'agreed ' || a.planned || ' and deposits of ' || a.deposits || ', the charges are ' || COALESCE(SUM(CASE
			WHEN c.kind <> 'deposit' THEN c.amount END), 0)
			|| ' and ' || COALESCE(SUM(CASE WHEN c.kind = 'deposit' THEN c.amount END), 0) AS what
		FROM proposal_answers a LEFT JOIN charges c ON c.proposal_id = a.proposal_id AND NOT c.beyond WHERE a.accepted
			GROUP BY a.proposal_id
		HAVING a.planned <> COALESCE(SUM(CASE WHEN c.kind <> 'deposit' THEN c.amount END), 0) OR a.deposits <> COALESCE(SUM(CASE
			WHEN c.kind = 'deposit' THEN c.amount END), 0)`},
	{"the version that a proposal names is there", `
		SELECT p.id, 'proposal has no version ' || p.draft AS what FROM proposals p
		WHERE NOT EXISTS (SELECT 1 FROM proposal_drafts d WHERE d.proposal_id = p.id AND d.draft = p.draft)`},
	{"amounts of two currencies never meet", `
		SELECT l.id, 'line is in ' || l.currency || ' on an invoice in ' || i.currency AS what
		FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id WHERE l.currency <> i.currency
		UNION ALL SELECT p.id, 'portion is in ' || p.currency || ' on a line in ' || l.currency
		FROM portions p JOIN invoice_lines l ON l.id = p.line_id WHERE p.currency <> l.currency`},
	{"the instalments add up to the amount due at issue, and what is open of them to what is owed", `
		SELECT i.id, 'invoice has ' || i.due || ' due and ' || i.open || ' open, its instalments ' || COALESCE(SUM(n.amount),
			0) || ' and ' || COALESCE(SUM(n.open), 0) AS what
		FROM invoices i LEFT JOIN instalments n ON n.invoice_id = i.id AND n.revision = i.revision
		WHERE i.state IN ('issued', 'part_paid', 'paid') AND i.kind <> 'credit_note' GROUP BY i.id HAVING i.due <> COALESCE(SUM(n.amount),
			0)
			OR i.open <> COALESCE(SUM(n.open), 0)`},
	{"what was issued, less what was credited, stands in the money ledger", `
		SELECT i.id, i.kind || ' has a total of ' || i.total || ', the ledger ' || COALESCE(SUM(m.amount), 0) AS what FROM invoices i
		LEFT JOIN (SELECT invoice_id, CASE WHEN from_bucket IN ('revenue', 'tax_payable', 'advances', 'opening_balance') THEN amount
			ELSE -amount END AS amount FROM money_movements
			WHERE (from_bucket IN ('revenue', 'tax_payable', 'advances', 'opening_balance')) <> (to_bucket IN ('revenue', 'tax_payable',
				'advances',
				'opening_balance'))) m ON m.invoice_id = i.id
		GROUP BY i.id HAVING COALESCE(SUM(m.amount), 0) <> CASE WHEN i.state NOT IN ('issued', 'part_paid', 'paid') THEN 0
			WHEN i.kind = 'credit_note' THEN -i.total ELSE i.total END`},
	{"nothing stays between what is issued and what is owed", `
		SELECT invoice_id AS id, 'invoice leaves ' || SUM(CASE WHEN to_bucket = 'issued' THEN amount
			ELSE -amount END) || ' in the issued bucket' AS what FROM money_movements
		WHERE 'issued' IN (from_bucket, to_bucket) GROUP BY invoice_id HAVING SUM(CASE WHEN to_bucket = 'issued' THEN amount
			ELSE -amount END) <> 0
			OR SUM(CASE WHEN to_bucket = 'issued' THEN firm_amount ELSE -firm_amount END) <> 0`},
	{"what is open of an instalment is what the money ledger says", `
		SELECT n.id, 'instalment has ' || n.open || ' open, the ledger ' || COALESCE(SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount
			ELSE -m.amount END), 0) AS what
		FROM instalments n LEFT JOIN money_movements m ON m.instalment_id = n.id AND 'receivable' IN (m.from_bucket, m.to_bucket)
		GROUP BY n.id HAVING n.open <> COALESCE(SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount ELSE -m.amount END), 0)
			OR n.open < 0`},
	{"an invoice is paid when nothing is owed on it", `
		SELECT id, 'invoice is ' || state || ' with ' || open || ' owed' AS what FROM invoices
		WHERE state IN ('issued', 'part_paid', 'paid') AND (state = 'paid') <> (open = 0) OR state IN ('draft', 'in_approval', 'approved',
			'deleted') AND open <> 0`},
	{"a payment is all on invoices, credit of the client, or held", `
		SELECT p.id, 'payment is ' || p.amount || ', the ledger ' || COALESCE(SUM(CASE WHEN m.to_bucket = 'bank' THEN m.amount
			ELSE -m.amount END), 0) AS what
		FROM payments p LEFT JOIN money_movements m ON m.payment_id = p.id AND 'bank' IN (m.from_bucket, m.to_bucket) GROUP BY p.id
		HAVING p.amount <> COALESCE(SUM(CASE WHEN m.to_bucket = 'bank' THEN m.amount ELSE -m.amount END), 0)`},
	{"what is held for a client is the sum of its movements", `
		SELECT p.id, 'fund has ' || p.held || ', its movements ' || COALESCE(SUM(CASE WHEN m.from_bucket = 'funds' THEN m.amount
			ELSE -m.amount END), 0) AS what
		FROM client_funds p LEFT JOIN money_movements m ON m.funds_id = p.id AND 'funds' IN (m.from_bucket, m.to_bucket) GROUP BY p.id
		HAVING p.held <> COALESCE(SUM(CASE WHEN m.from_bucket = 'funds' THEN m.amount ELSE -m.amount END), 0) OR p.held < 0`},
	{"nothing leaves a fund, or the credit of a client, before it came in", `
		SELECT id, what || ' of ' || held || ' on ' || day AS what FROM (
			SELECT funds_id AS id, effective_day AS day, 'fund' AS what,
				SUM(SUM(CASE WHEN from_bucket = 'funds' THEN amount ELSE -amount END)) OVER (PARTITION BY funds_id
					ORDER BY effective_day) AS held
			FROM money_movements WHERE 'funds' IN (from_bucket, to_bucket) GROUP BY funds_id, effective_day
			UNION ALL SELECT client_id, effective_day, 'credit',
				SUM(SUM(CASE WHEN from_bucket = 'credit' THEN amount ELSE -amount END)) OVER (PARTITION BY client_id, entity_id, currency
					ORDER BY effective_day)
			FROM money_movements WHERE 'credit' IN (from_bucket, to_bucket) GROUP BY client_id, entity_id, currency, effective_day)
				WHERE held < 0`},
	{"drafts reserve no more of a fund than is in it, and as much as they say", `
		SELECT p.id, 'fund has ' || p.held || ', drafts reserve ' || SUM(f.amount) AS what FROM client_funds p
			JOIN invoice_funds f ON f.funds_id = p.id
		JOIN invoices i ON i.id = f.invoice_id AND i.state IN ('draft', 'in_approval', 'approved') GROUP BY p.id
			HAVING SUM(f.amount) > p.held
		UNION ALL SELECT i.id, 'invoice takes ' || i.funds || ' of funds, of held ' || COALESCE(SUM(f.amount), 0) FROM invoices i
			LEFT JOIN invoice_funds f ON f.invoice_id = i.id
		GROUP BY i.id HAVING i.funds <> COALESCE(SUM(f.amount), 0)`},
	{"a client's credit is never less than nothing, nor than drafts take of it", `
		SELECT m.client_id AS id, 'client has a credit of ' || SUM(CASE WHEN m.from_bucket = 'credit' THEN m.amount
			ELSE -m.amount END) AS what
			FROM money_movements m
		WHERE 'credit' IN (m.from_bucket, m.to_bucket) GROUP BY m.client_id, m.entity_id, m.currency
		HAVING SUM(CASE WHEN m.from_bucket = 'credit' THEN m.amount ELSE -m.amount END) < COALESCE((SELECT SUM(i.credit) FROM invoices i
			WHERE i.client_id = m.client_id AND i.entity_id = m.entity_id AND i.currency = m.currency
				AND i.state IN ('draft', 'in_approval',
				'approved')), 0)`},
	{"every application of funds has its transfers", `
		SELECT i.id, 'invoice took ' || COALESCE(l.applied, 0) || ' of funds, its transfers are ' || COALESCE(t.moved, 0) AS what
			FROM invoices i
		LEFT JOIN (SELECT invoice_id, SUM(CASE WHEN to_bucket = 'funds' THEN amount ELSE -amount END) AS applied FROM money_movements
			WHERE 'funds' IN (from_bucket, to_bucket) AND invoice_id IS NOT NULL GROUP BY invoice_id) l ON l.invoice_id = i.id
		LEFT JOIN (SELECT invoice_id, SUM(amount) AS moved FROM transfers GROUP BY invoice_id) t ON t.invoice_id = i.id
		WHERE COALESCE(l.applied, 0) <> COALESCE(t.moved, 0)`},
	{"numbers have no gap", `
		SELECT s.id, 'series ' || s.prefix || ' goes to ' || (s.next_number - 1) || ' with ' || COUNT(i.id) || ' invoices' AS what
		FROM series s LEFT JOIN invoices i ON i.series_id = s.id AND i.number BETWEEN s.first_number AND s.next_number - 1 GROUP BY s.id
		HAVING COUNT(i.id) <> s.next_number - s.first_number`},
	{"dates follow numbers", `
		SELECT a.id, a.number_text || ' is dated ' || a.dated || ', the number before it ' || b.dated AS what
		FROM invoices a JOIN invoices b ON b.series_id = a.series_id AND b.number = a.number - 1 WHERE a.dated < b.dated
			AND a.state IN ('issued', 'part_paid', 'paid') AND b.state IN ('issued', 'part_paid', 'paid')`},
	{"only what is issued has a number and a revision", `
		SELECT i.id, 'invoice is ' || i.state || ' and has ' || COUNT(r.id) || ' revisions' AS what
		FROM invoices i LEFT JOIN invoice_revisions r ON r.invoice_id = i.id
		GROUP BY i.id HAVING (i.kind <> 'opening' AND i.state IN ('issued', 'part_paid', 'paid') AND (i.number IS NULL
			OR COUNT(r.id) <> i.revision OR i.revision = 0))
			OR (i.state = 'deleted' AND i.number IS NOT NULL)`},
	{"every movement has its act, and every key points at something", `
		SELECT rowid AS id, "table" || ' points at nothing in ' || "parent" AS what FROM pragma_foreign_key_check`},
}
