-- What statements ask of documents, under the names that SQLite gives it (SQLite, "JSON Functions And
-- Operators"). Values come as text; nothing comes of NULL. Paths are names with dots between, after "$.".
CREATE FUNCTION json_extract(doc text, path text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT doc::jsonb #>> string_to_array(substr(path, 3), '.') $$;
CREATE FUNCTION json_type(doc text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT jsonb_typeof(doc::jsonb) $$;
CREATE FUNCTION json_each(doc text) RETURNS TABLE (value text) LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT entry FROM jsonb_array_elements_text(CASE WHEN jsonb_typeof(doc::jsonb) = 'array' THEN doc::jsonb ELSE '[]' END) AS entry $$;
CREATE FUNCTION json_each(doc text, path text) RETURNS TABLE (value text) LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT entry FROM (SELECT doc::jsonb #> string_to_array(substr(path, 3), '.') AS part) AS at,
		jsonb_array_elements_text(CASE WHEN jsonb_typeof(part) = 'array' THEN part ELSE '[]' END) AS entry $$;
CREATE FUNCTION json_tree(doc text) RETURNS TABLE (key text, atom text) LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ WITH RECURSIVE tree(key, value) AS (
			SELECT NULL::text, doc::jsonb
			UNION ALL SELECT below.key, below.value FROM tree, LATERAL (
				SELECT key, value FROM jsonb_each(CASE WHEN jsonb_typeof(tree.value) = 'object' THEN tree.value ELSE '{}' END)
				UNION ALL SELECT NULL, value FROM jsonb_array_elements(CASE WHEN jsonb_typeof(tree.value) = 'array' THEN tree.value ELSE '[]' END)
			) AS below)
		SELECT key, value #>> '{}' FROM tree WHERE jsonb_typeof(value) NOT IN ('object', 'array') $$;
CREATE FUNCTION instr(whole text, part text) RETURNS integer LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT strpos(whole, part) $$;
-- A moment as it is put in order among days: 2026-11-02 12:00:00, UTC.
CREATE FUNCTION moment_text(at timestamptz) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE
	AS $$ SELECT to_char(at AT TIME ZONE 'UTC', 'YYYY-MM-DD HH24:MI:SS') $$;
