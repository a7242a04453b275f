"""What became of a quote `q`, as columns of any query about quotes: whether a clip was made of it, and where it was posted."""

MADE = "exists (select from export e where e.quote_id = q.id and e.made_at is not null) as made"
POSTED = """(select coalesce(string_agg(a.name || ', ' || to_char(p.posted_at, 'FMDD Mon YYYY'), '; ' order by p.posted_at), '')
    from post p join posting_account a on a.id = p.account_id where p.quote_id = q.id and p.state = 'posted') as posted"""
