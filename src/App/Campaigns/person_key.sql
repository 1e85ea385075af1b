-- The first 64 bits of a person's keyed hash (see PersonHash): an address is compared in a set without being sent. The key comes with the connection.
create or replace function person_key(text) returns bigint language sql stable strict parallel safe
  return ('x' || encode(substr(hmac(sha256(convert_to($1, 'UTF8')), decode(current_setting('lantern.person_key'), 'hex'), 'sha256'), 1, 8), 'hex'))::bit(64)::bigint;
