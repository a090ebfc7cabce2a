using Kivren.Core.Content;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Kivren.Store.Tests;

/// <summary>What an earlier version stored, read by this one.</summary>
public class MigrationTests
{
    [Fact]
    public async Task Passages_of_two_copies_of_a_manual_become_divisions_and_roles_in_the_journal_can_be_taken_back()
    {
        var shelf = new TestShelf();
        await shelf.InitializeAsync();
        try
        {
            await using var db = shelf.CreateDbContext();
            var migrator = db.GetService<IMigrator>();
            await migrator.MigrateAsync("FewerChecks");
            foreach (var manual in new[] { "one", "two" })
                await db.Database.ExecuteSqlRawAsync(
                    """
                    INSERT INTO manuals (id, title, language, look, variables, editions, aliases, passages, roles, hyphenation_exceptions,
                                         worked_on, pages, loose_ends)
                    VALUES ({0}, 'Copy', 'en-GB', 'Workshop, A5', '{{}}', '[]', '{{}}',
                            '[{{"id":"pas","name":"Lamps","blocks":[{{"type":"paragraph","attrs":{{"id":"pp"}},
                              "content":[{{"type":"text","text":"Lamps burn."}}]}},
                              {{"type":"paragraph","attrs":{{"id":"pq"}},"content":[{{"type":"text","text":"Still."}}]}}]}}]',
                            '[{{"name":"Remark","foundation":"body"}}]', '{{}}', now(), 0, 0);
                    INSERT INTO divisions (id, manual_id, order_key, kind, title, language, applies_to, begins, state, version, deleted)
                    VALUES ({0} || 'd', {0}, '0i', 'Chapter', 'First', 'en-GB', '{{"model":["6"]}}', 'ByLook', 'Draft', 1, false);
                    INSERT INTO journal (manual_id, batch_id, writer, label, at, answer, kind, taken_back, new_blocks, roles_before,
                                         roles_after)
                    VALUES ({0}, {0} || 'b', 'w', 'Adding a role', now(), '{{"Accepted":[],"Refused":[]}}', 'Change', false, '{{}}', '[]',
                            '[{{"name":"Remark","foundation":"body"}}]');
                    """,
                    manual
                );
            await migrator.MigrateAsync();
            foreach (var manual in new[] { "one", "two" })
            {
                var desk = new StoredDesk(shelf, manual, TimeProvider.System);
                await desk.Read();
                var passage = Assert.Single(desk.State!.Manual.Passages);
                Assert.Equal("Lamps", passage.Name);
                Assert.Equal(["Lamps burn.", "Still."], passage.Blocks.Select(b => ((Paragraph)b).Content.PlainText()));
                Assert.Equal("First", Assert.Single(desk.State.Manual.Divisions).Title);
                Assert.Equal("model", Assert.Single(desk.State.Manual.Conditions).Axis);
                Desk.Tests.DeskMachine.Holds(desk.State);
                Assert.Empty((await desk.TakeBack("w", false)).Refused);
                Assert.Empty(desk.State.Manual.Roles);
            }
        }
        finally
        {
            await shelf.DisposeAsync();
        }
    }
}
