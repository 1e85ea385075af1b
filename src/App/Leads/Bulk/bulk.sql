-- Leads removed by a bulk edit are found by their address when the person asks for their data.
create index if not exists ix_bulk_lead_gone on bulk_lead ((kept->'gone'->'lead'->0->>'email')) where kept ? 'gone';
