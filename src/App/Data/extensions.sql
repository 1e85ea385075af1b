-- Trigrams for look-ups by a part of a word, exclusion of ranges that overlap, keyed hashes.
create extension if not exists pg_trgm;
create extension if not exists btree_gist;
create extension if not exists pgcrypto;
