using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class OneSource : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // Passages become divisions of a kind of their own, before all others; copies of one manual had the same ids in theirs.
            migrationBuilder.Sql("""
                CREATE TEMP TABLE kept_passages ON COMMIT DROP AS
                SELECT m.id AS manual_id, m.language, p.value AS passage, p.ordinality AS n,
                       coalesce((SELECT min(order_key COLLATE "C") FROM divisions d WHERE d.manual_id = m.id), 'i') AS first_key,
                       CASE WHEN row_number() OVER (PARTITION BY p.value->>'id' ORDER BY m.id) > 1
                                 OR EXISTS (SELECT 1 FROM divisions d WHERE d.id = p.value->>'id')
                            THEN left(p.value->>'id', 48) || '-' || left(md5(m.id), 12) ELSE p.value->>'id' END AS division_id
                FROM manuals m, jsonb_array_elements(CASE jsonb_typeof(m.passages) WHEN 'array' THEN m.passages ELSE '[]' END)
                     WITH ORDINALITY AS p(value, ordinality);

                INSERT INTO divisions (id, manual_id, order_key, kind, title, language, applies_to, begins, state, version, deleted)
                SELECT division_id, manual_id, '0' || first_key || lpad(n::text, 6, '0') || 'i', 'Passage', passage->>'name', language,
                       '{}', 'ByLook', 'Draft', 1, false
                FROM kept_passages;

                INSERT INTO blocks (id, manual_id, division_id, order_key, kind, body, version, deleted)
                SELECT id, manual_id, division_id, lpad(n::text, 8, '0') || 'i', initcap(body->>'type'),
                       jsonb_set(body, '{attrs,id}', to_jsonb(id)), 1, false
                FROM (
                    SELECT k.manual_id, k.division_id, b.value AS body, b.ordinality AS n,
                           CASE WHEN row_number() OVER (PARTITION BY b.value#>>'{attrs,id}' ORDER BY k.manual_id) > 1
                                     OR EXISTS (SELECT 1 FROM blocks x WHERE x.id = b.value#>>'{attrs,id}')
                                THEN left(b.value#>>'{attrs,id}', 48) || '-' || left(md5(k.manual_id), 12)
                                ELSE b.value#>>'{attrs,id}' END AS id
                    FROM kept_passages k, jsonb_array_elements(k.passage->'blocks') WITH ORDINALITY AS b(value, ordinality)
                ) AS placed;

                UPDATE journal SET roles_before = jsonb_build_object('roles', roles_before),
                                   roles_after = jsonb_build_object('roles', roles_after)
                WHERE roles_before IS NOT NULL;
                """);

            migrationBuilder.DropColumn(
                name: "passages",
                table: "manuals");

            migrationBuilder.RenameColumn(
                name: "roles_before",
                table: "journal",
                newName: "settings_before");

            migrationBuilder.RenameColumn(
                name: "roles_after",
                table: "journal",
                newName: "settings_after");

            migrationBuilder.AddColumn<string>(
                name: "conditions",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "conditions",
                table: "manuals");

            migrationBuilder.RenameColumn(
                name: "settings_before",
                table: "journal",
                newName: "roles_before");

            migrationBuilder.RenameColumn(
                name: "settings_after",
                table: "journal",
                newName: "roles_after");

            migrationBuilder.AddColumn<string>(
                name: "passages",
                table: "manuals",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");
        }
    }
}
