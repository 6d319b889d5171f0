-- +goose Up
-- What an invoice needs before it goes out.
INSERT INTO issue_checks (code, name, level) VALUES
	('no_issuer_address', 'No address of ours on it', 'block'),
	('no_issuer_tax_number', 'No tax number of ours on it', 'block'),
	('no_way_to_pay', 'No way to pay it', 'block');
