using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kivren.Store.Migrations
{
    /// <inheritdoc />
    public partial class OneOwner : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "size",
                table: "sources",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "kept_at",
                table: "pictures",
                type: "timestamp with time zone",
                nullable: false,
                defaultValueSql: "now()");

            migrationBuilder.AddColumn<bool>(
                name: "cancel_asked",
                table: "outputs",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "heartbeat",
                table: "outputs",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "taken_by",
                table: "outputs",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "tries",
                table: "outputs",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "roles_after",
                table: "journal",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "roles_before",
                table: "journal",
                type: "jsonb",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "incoming",
                columns: table => new
                {
                    id = table.Column<string>(type: "text", nullable: false),
                    manual_id = table.Column<string>(type: "text", nullable: true),
                    after = table.Column<string>(type: "text", nullable: false),
                    newer = table.Column<string>(type: "text", nullable: true),
                    seed = table.Column<string>(type: "text", nullable: false),
                    choices = table.Column<string>(type: "jsonb", nullable: true),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    taken = table.Column<string>(type: "jsonb", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_incoming", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "journal_blocks",
                columns: table => new
                {
                    act = table.Column<long>(type: "bigint", nullable: false),
                    block_id = table.Column<string>(type: "text", nullable: false),
                    before_division = table.Column<string>(type: "text", nullable: true),
                    before_order_key = table.Column<string>(type: "text", nullable: true),
                    before_version = table.Column<int>(type: "integer", nullable: true),
                    before_body = table.Column<string>(type: "jsonb", nullable: true),
                    after_version = table.Column<int>(type: "integer", nullable: false),
                    after_deleted = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_journal_blocks", x => new { x.act, x.block_id });
                    table.ForeignKey(
                        name: "fk_journal_blocks_journal_act",
                        column: x => x.act,
                        principalTable: "journal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "journal_divisions",
                columns: table => new
                {
                    act = table.Column<long>(type: "bigint", nullable: false),
                    division_id = table.Column<string>(type: "text", nullable: false),
                    before = table.Column<string>(type: "jsonb", nullable: true),
                    after = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_journal_divisions", x => new { x.act, x.division_id });
                    table.ForeignKey(
                        name: "fk_journal_divisions_journal_act",
                        column: x => x.act,
                        principalTable: "journal",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "output_files",
                columns: table => new
                {
                    output_id = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_output_files", x => x.output_id);
                    table.ForeignKey(
                        name: "fk_output_files_outputs_output_id",
                        column: x => x.output_id,
                        principalTable: "outputs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "source_files",
                columns: table => new
                {
                    source_id = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_source_files", x => x.source_id);
                    table.ForeignKey(
                        name: "fk_source_files_sources_source_id",
                        column: x => x.source_id,
                        principalTable: "sources",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "incoming_files",
                columns: table => new
                {
                    incoming_id = table.Column<string>(type: "text", nullable: false),
                    no = table.Column<int>(type: "integer", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_incoming_files", x => new { x.incoming_id, x.no });
                    table.ForeignKey(
                        name: "fk_incoming_files_incoming_incoming_id",
                        column: x => x.incoming_id,
                        principalTable: "incoming",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            // What stood in one column each moves to tables of its own.
            migrationBuilder.Sql("""
                UPDATE sources SET size = octet_length(bytes);
                INSERT INTO source_files (source_id, bytes) SELECT id, bytes FROM sources;
                INSERT INTO output_files (output_id, bytes) SELECT id, file FROM outputs WHERE file IS NOT NULL;
                INSERT INTO journal_blocks (act, block_id, before_division, before_order_key, before_version, before_body, after_version, after_deleted)
                SELECT DISTINCT ON (j.id, c->>'Id') j.id, c->>'Id', c->'Before'->>'Division', c->'Before'->>'OrderKey', (c->'Before'->>'Version')::int, (c->'Before'->>'Body')::jsonb,
                    coalesce((c->'After'->>'Version')::int, 0), c->'After'->>'Body' IS NULL
                FROM journal j, jsonb_array_elements(j.changes->'Blocks') c;
                INSERT INTO journal_divisions (act, division_id, before, after)
                SELECT DISTINCT ON (j.id, c->>'Id') j.id, c->>'Id',
                    CASE WHEN jsonb_typeof(c->'Before') = 'object' THEN (c->'Before') || jsonb_build_object('Begins', coalesce(d.begins, 'ByLook'), 'AppliesTo', coalesce(c->'Before'->>'AppliesTo', '{}'), 'Language', coalesce(c->'Before'->>'Language', d.language, 'en-GB'), 'State', coalesce(c->'Before'->>'State', 'Draft')) END,
                    (c->'After') || jsonb_build_object('Begins', coalesce(d.begins, 'ByLook'), 'AppliesTo', coalesce(c->'After'->>'AppliesTo', '{}'), 'Language', coalesce(c->'After'->>'Language', d.language, 'en-GB'), 'State', coalesce(c->'After'->>'State', 'Draft'))
                FROM journal j CROSS JOIN LATERAL jsonb_array_elements(j.changes->'Divisions') c LEFT JOIN divisions d ON d.id = c->>'Id'
                WHERE jsonb_typeof(c->'After') = 'object';
                -- Outputs that an ended process left are begun again.
                UPDATE outputs SET state = 'Waiting', stage = '' WHERE state = 'Running';
                DROP SCHEMA IF EXISTS hangfire CASCADE;
                """);

            migrationBuilder.DropColumn(
                name: "bytes",
                table: "sources");

            migrationBuilder.DropColumn(
                name: "file",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "changes",
                table: "journal");

            // Rows whose place another row had as well get one right behind it; then no two can have one again. Deferred to the
            // end of an act, which may give one row the place that another leaves.
            migrationBuilder.Sql("""
                DELETE FROM blocks b WHERE NOT EXISTS (SELECT FROM divisions d WHERE d.id = b.division_id);
                UPDATE blocks b SET order_key = b.order_key || 'i' || substr(md5(b.id), 1, 12) || 'i'
                WHERE NOT b.deleted AND EXISTS (SELECT FROM blocks o WHERE NOT o.deleted AND o.division_id = b.division_id AND o.order_key = b.order_key AND o.id < b.id);
                UPDATE divisions b SET order_key = b.order_key || 'i' || substr(md5(b.id), 1, 12) || 'i'
                WHERE NOT b.deleted AND EXISTS (SELECT FROM divisions o WHERE NOT o.deleted AND o.manual_id = b.manual_id AND o.order_key = b.order_key AND o.id < b.id);
                ALTER TABLE blocks ADD CONSTRAINT one_block_one_place EXCLUDE USING btree (division_id WITH =, order_key WITH =) WHERE (NOT deleted) DEFERRABLE INITIALLY DEFERRED;
                ALTER TABLE divisions ADD CONSTRAINT one_division_one_place EXCLUDE USING btree (manual_id WITH =, order_key WITH =) WHERE (NOT deleted) DEFERRABLE INITIALLY DEFERRED;
                """);

            migrationBuilder.CreateIndex(
                name: "ix_outputs_state",
                table: "outputs",
                column: "state");

            migrationBuilder.CreateIndex(
                name: "ix_blocks_division_id",
                table: "blocks",
                column: "division_id");

            migrationBuilder.CreateIndex(
                name: "ix_incoming_started_at",
                table: "incoming",
                column: "started_at");

            migrationBuilder.CreateIndex(
                name: "ix_journal_blocks_block_id_before_version",
                table: "journal_blocks",
                columns: new[] { "block_id", "before_version" });

            migrationBuilder.AddForeignKey(
                name: "fk_assets_manuals_manual_id",
                table: "assets",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_blocks_divisions_division_id",
                table: "blocks",
                column: "division_id",
                principalTable: "divisions",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_blocks_manuals_manual_id",
                table: "blocks",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_divisions_manuals_manual_id",
                table: "divisions",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_journal_manuals_manual_id",
                table: "journal",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_outputs_manuals_manual_id",
                table: "outputs",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_sources_manuals_manual_id",
                table: "sources",
                column: "manual_id",
                principalTable: "manuals",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_assets_manuals_manual_id",
                table: "assets");

            migrationBuilder.DropForeignKey(
                name: "fk_blocks_divisions_division_id",
                table: "blocks");

            migrationBuilder.DropForeignKey(
                name: "fk_blocks_manuals_manual_id",
                table: "blocks");

            migrationBuilder.DropForeignKey(
                name: "fk_divisions_manuals_manual_id",
                table: "divisions");

            migrationBuilder.DropForeignKey(
                name: "fk_journal_manuals_manual_id",
                table: "journal");

            migrationBuilder.DropForeignKey(
                name: "fk_outputs_manuals_manual_id",
                table: "outputs");

            migrationBuilder.DropForeignKey(
                name: "fk_sources_manuals_manual_id",
                table: "sources");

            migrationBuilder.DropTable(
                name: "incoming_files");

            migrationBuilder.DropTable(
                name: "journal_blocks");

            migrationBuilder.DropTable(
                name: "journal_divisions");

            migrationBuilder.DropTable(
                name: "output_files");

            migrationBuilder.DropTable(
                name: "source_files");

            migrationBuilder.DropTable(
                name: "incoming");

            migrationBuilder.DropIndex(
                name: "ix_outputs_state",
                table: "outputs");

            migrationBuilder.DropIndex(
                name: "ix_blocks_division_id",
                table: "blocks");

            migrationBuilder.DropColumn(
                name: "size",
                table: "sources");

            migrationBuilder.DropColumn(
                name: "kept_at",
                table: "pictures");

            migrationBuilder.DropColumn(
                name: "cancel_asked",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "heartbeat",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "taken_by",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "tries",
                table: "outputs");

            migrationBuilder.DropColumn(
                name: "roles_after",
                table: "journal");

            migrationBuilder.DropColumn(
                name: "roles_before",
                table: "journal");

            migrationBuilder.AddColumn<byte[]>(
                name: "bytes",
                table: "sources",
                type: "bytea",
                nullable: false,
                defaultValue: new byte[0]);

            migrationBuilder.AddColumn<byte[]>(
                name: "file",
                table: "outputs",
                type: "bytea",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "changes",
                table: "journal",
                type: "jsonb",
                nullable: false,
                defaultValue: "");
        }
    }
}
