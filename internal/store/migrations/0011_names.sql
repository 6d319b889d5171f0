-- +goose Up
-- The words of the trade: funds of a client, methods of payment.
ALTER TABLE purses RENAME TO client_funds;
ALTER TABLE invoice_funds RENAME COLUMN purse_id TO funds_id;
ALTER TABLE transfers RENAME COLUMN purse_id TO funds_id;
ALTER TABLE payments RENAME COLUMN purse_id TO funds_id;
ALTER TABLE money_movements RENAME COLUMN purse_id TO funds_id;
ALTER TABLE payment_ways RENAME TO payment_methods;
ALTER TABLE proposal_answers RENAME COLUMN way_id TO payment_method_id;

-- +goose Down
ALTER TABLE proposal_answers RENAME COLUMN payment_method_id TO way_id;
ALTER TABLE payment_methods RENAME TO payment_ways;
ALTER TABLE money_movements RENAME COLUMN funds_id TO purse_id;
ALTER TABLE payments RENAME COLUMN funds_id TO purse_id;
ALTER TABLE transfers RENAME COLUMN funds_id TO purse_id;
ALTER TABLE invoice_funds RENAME COLUMN funds_id TO purse_id;
ALTER TABLE client_funds RENAME TO purses;
