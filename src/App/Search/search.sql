-- Words as Core/Fields/Folding has them; a test compares both. An index limits the length of a word, so search_note drops what follows the hundredth character of one.
create or replace function search_words(a text, b text, c text, d text) returns tsvector language sql immutable parallel safe as $$
  select array_to_tsvector(array_remove(regexp_split_to_array(replace(replace(replace(replace(translate(
    lower(coalesce(a, '') || ' ' || coalesce(b, '') || ' ' || coalesce(c, '') || ' ' || coalesce(d, '')),
    'àáâãäåçèéêëìíîïðñòóôõöøùúûüýÿāăąćčďđēęěğīłńňőřśşšťůűźżž', 'aaaaaaceeeeiiiidnoooooouuuuyyaaaccddeeegilnnorssstuuzzz'),
    'æ', 'ae'), 'ß', 'ss'), 'œ', 'oe'), 'þ', 'th'), '[^[:alnum:]]+'), ''))
$$;

create or replace function search_note(note text) returns tsvector language sql immutable parallel safe
  return search_words(regexp_replace(left(note, 20000), '([[:alnum:]]{100})[[:alnum:]]+', '\1', 'g'), null, null, null);

create index if not exists ix_lead_search on lead using gin (search_words(first_name, last_name, company, email)) with (gin_pending_list_limit = 1024);
create index if not exists ix_contact_search on contact using gin (search_words(name, email, null, null));
create index if not exists ix_account_search on account using gin (search_words(name, domain, null, null));
create index if not exists ix_deal_search on deal using gin (search_words(name, null, null, null));
create index if not exists ix_story_search on story_entry using gin (search_note(text)) where kind in ('note', 'call', 'call_missed', 'mail', 'message', 'meeting');
create index if not exists ix_search_word_like on search_word using gin (word gin_trgm_ops);

-- A telephone number is found by its last digits and by any part of it.
create index if not exists ix_lead_phone_end on lead (reverse(phone) text_pattern_ops) where phone is not null;
create index if not exists ix_lead_mobile_end on lead (reverse(mobile) text_pattern_ops) where mobile is not null;
create index if not exists ix_contact_phone_end on contact (reverse(phone) text_pattern_ops) where phone is not null;
create index if not exists ix_lead_phone_part on lead using gin ((coalesce(phone, '') || ' ' || coalesce(mobile, '')) gin_trgm_ops) with (gin_pending_list_limit = 1024);
create index if not exists ix_contact_phone_part on contact using gin (phone gin_trgm_ops);
