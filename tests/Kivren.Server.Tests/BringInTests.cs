using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Kivren.Formats.Generator;

namespace Kivren.Server.Tests;

/// <summary>Documents on their way in, over real HTTP into a real database.</summary>
public class BringInTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server { get; } = shared.Server;

    private static byte[] Leaflet(string litres = "1.4", bool washer = false)
    {
        var file = new WordFile()
            .P("Oil", "Heading 1")
            .P($"The case holds {litres} litres of oil, drained while it is warm.", "Leaflet text");
        if (washer)
            file.P("The copper washer is never used twice.", "Leaflet text");
        return file.P("Before you start", bold: true)
            .P("WARNING: The drum turns by itself.")
            .P("1. Lock the drum.")
            .P("2. Turn the crank.")
            .ToBytes();
    }

    private async Task<JsonNode> Start(byte[] file, string name = "leaflet.docx", string query = "")
    {
        using var form = new MultipartFormDataContent { { new ByteArrayContent(file), "files", name } };
        var answer = await Server.Http.PostAsync($"/api/bring-in{query}", form);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        var id = JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["id"]!.GetValue<string>();
        while (true)
        {
            var view = await Server.Get($"/bring-in/{id}");
            if (view["state"]!.GetValue<string>() != "Reading")
                return view;
        }
    }

    private static string IdOf(JsonNode view) => view["id"]!.GetValue<string>();

    private async Task<JsonNode> Take(JsonNode view, params string[] differences)
    {
        var (status, taken) = await Server.Post($"/bring-in/{IdOf(view)}/take", new { writer = "w", differences });
        Assert.Equal(200, status);
        return taken!;
    }

    [Fact]
    public async Task A_document_becomes_a_manual_and_its_file_stays_with_it()
    {
        var view = await Start(Leaflet());
        Assert.Equal("Ready", view["state"]!.GetValue<string>());
        Assert.Equal(
            "headA",
            view["lines"]!.AsArray().Single(l => l!["key"]!.GetValue<string>() == "look:bold")!["role"]!.GetValue<string>()
        );
        var manual = (await Take(view))["manual"]!.GetValue<string>();
        var source = Assert.Single((await Server.Get($"/manuals/{manual}/sources")).AsArray());
        Assert.Equal("leaflet.docx", source!["name"]!.GetValue<string>());
        Assert.Equal(Leaflet(), await Server.Http.GetByteArrayAsync($"/api/sources/{source["id"]}/file"));
    }

    [Fact]
    public async Task A_choice_shapes_all_anew_and_a_kept_mapping_is_proposed_for_the_next()
    {
        var view = await Start(Leaflet());
        var answer = await Server.Http.PutAsJsonAsync(
            $"/api/bring-in/{IdOf(view)}/choices",
            new { roles = new Dictionary<string, string> { ["look:bold"] = "headC" } }
        );
        view = JsonNode.Parse(await answer.Content.ReadAsStringAsync())!;
        Assert.Equal(
            "headC",
            view["lines"]!.AsArray().Single(l => l!["key"]!.GetValue<string>() == "look:bold")!["role"]!.GetValue<string>()
        );
        await Server.Post($"/bring-in/{IdOf(view)}/keep-mapping?name=Halvik", new { });
        Assert.Equal("Halvik", (await Start(Leaflet("1.5")))["mapping"]!.GetValue<string>());
        var text = await Server.Http.GetStringAsync("/api/mappings/Halvik/file");
        Assert.Contains("\"look:bold\": \"headC\"", text, StringComparison.Ordinal);
        Assert.True((await Server.Http.DeleteAsync("/api/mappings/Halvik")).IsSuccessStatusCode);
        Assert.True(
            (await Server.Http.PostAsync("/api/mappings", new StringContent(text, Encoding.UTF8, "application/json"))).IsSuccessStatusCode
        );
        await Server.Http.DeleteAsync("/api/mappings/Halvik");
    }

    [Fact]
    public async Task Into_a_manual_it_comes_as_one_act_that_one_undo_takes_back_and_one_redo_brings()
    {
        var manual = await Server.NewManual();
        var chapter = await Server.Chapter(manual);
        await Take(await Start(Leaflet(), query: $"?manual={manual}&after={chapter}"));
        string[] Titles(JsonNode open) => open["divisions"]!.AsArray().Select(d => d!["title"]!.GetValue<string>()).ToArray();
        Assert.Equal(["Title page", "Contents", "First chapter", "Oil", "Index"], Titles(await Server.Get($"/manuals/{manual}")));
        var came = (await Server.Get($"/manuals/{manual}"))["divisions"]!.AsArray()[3]!["id"]!.GetValue<string>();
        var blocks = (await Server.Blocks(manual, came)).Count;
        Assert.True(blocks >= 4);
        await Server.Post($"/manuals/{manual}/take-back?writer=w&again=false", new { });
        Assert.DoesNotContain("Oil", Titles(await Server.Get($"/manuals/{manual}")));
        await Server.Post($"/manuals/{manual}/take-back?writer=w&again=true", new { });
        Assert.Contains("Oil", Titles(await Server.Get($"/manuals/{manual}")));
        Assert.Equal(blocks, (await Server.Blocks(manual, came)).Count);
    }

    [Fact]
    public async Task Of_a_newer_version_what_is_taken_changes_and_what_is_left_stays()
    {
        var manual = (await Take(await Start(Leaflet())))["manual"]!.GetValue<string>();
        var source = (await Server.Get($"/manuals/{manual}/sources")).AsArray()[0]!["id"]!.GetValue<string>();
        var chapter = await Server.Chapter(manual);
        var before = await Server.Blocks(manual, chapter);
        var view = await Start(Leaflet("1.6", washer: true), "second.docx", $"?newer={source}");
        var differences = view["differences"]!.AsArray();
        Assert.Equal(["Changed", "Added"], differences.Select(d => d!["kind"]!.GetValue<string>()));
        await Take(view, differences[1]!["id"]!.GetValue<string>());
        var after = await Server.Blocks(manual, chapter);
        Assert.Equal(before.Count + 1, after.Count);
        Assert.Equal(before[0], after[0]);
        Assert.Equal("The copper washer is never used twice.", after[1].Text);
        // What was left is not shown again; the source is now the second version.
        var again = await Start(Leaflet("1.6", washer: true), "second.docx", $"?newer={source}");
        Assert.DoesNotContain(again["differences"]!.AsArray(), d => d!["kind"]!.GetValue<string>() == "Added");
    }

    [Fact]
    public async Task What_cannot_be_read_is_told_and_what_can_is_offered()
    {
        var view = await Start(Leaflet()[..200]);
        Assert.Equal("Failed", view["state"]!.GetValue<string>());
        Assert.Contains("leaflet.docx is cut short", view["problem"]!.GetValue<string>(), StringComparison.Ordinal);
        using var form = new MultipartFormDataContent
        {
            { new ByteArrayContent(Leaflet()), "files", "good.docx" },
            { new ByteArrayContent([0xD0, 0xCF, 0x11, 0xE0]), "files", "locked.docx" },
        };
        var id = JsonNode.Parse(await (await Server.Http.PostAsync("/api/bring-in", form)).Content.ReadAsStringAsync())![
            "id"
        ]!.GetValue<string>();
        JsonNode both;
        do both = await Server.Get($"/bring-in/{id}");
        while (both["state"]!.GetValue<string>() == "Reading");
        Assert.Equal("Ready", both["state"]!.GetValue<string>());
        Assert.Contains(both["files"]!.AsArray(), f =>
            f!["problem"]?.GetValue<string>().Contains("password", StringComparison.Ordinal) == true
        );
    }

    [Fact]
    public async Task Stopped_reading_leaves_nothing()
    {
        using var form = new MultipartFormDataContent
        {
            { new ByteArrayContent(WordFile.From(ManualGenerator.Make(60, 1)).ToBytes()), "files", "long.docx" },
        };
        var id = JsonNode.Parse(await (await Server.Http.PostAsync("/api/bring-in", form)).Content.ReadAsStringAsync())![
            "id"
        ]!.GetValue<string>();
        Assert.True((await Server.Http.PostAsync($"/api/bring-in/{id}/cancel", null)).IsSuccessStatusCode);
        Assert.Equal(404, (int)(await Server.Http.GetAsync($"/api/bring-in/{id}")).StatusCode);
        Assert.Equal(404, (await Server.Post($"/bring-in/{id}/take", new { writer = "w" })).Status);
    }

    private static byte[] Dot(SkiaSharp.SKColor colour)
    {
        using var bitmap = new SkiaSharp.SKBitmap(8, 8);
        bitmap.Erase(colour);
        return bitmap.Encode(SkiaSharp.SKEncodedImageFormat.Png, 100).ToArray();
    }

    /// <summary>A document whose pictures are numbered by their order, as word processors do.</summary>
    private static byte[] Illustrated(params (string Caption, SkiaSharp.SKColor Colour)[] figures)
    {
        var file = new WordFile().P("Oil", "Heading 1").P("The case holds 1.4 litres of oil.");
        for (var n = 0; n < figures.Length; n++)
            file.Xml($"<w:p>{file.Picture($"image{n + 1}.png", Dot(figures[n].Colour), figures[n].Caption)}</w:p>")
                .P(figures[n].Caption, "Caption");
        return file.ToBytes();
    }

    /// <summary>The figures of a manual: caption and the colour that its picture shows.</summary>
    private async Task<List<(string Caption, SkiaSharp.SKColor Colour)>> Shown(string manual)
    {
        var found = new List<(string, SkiaSharp.SKColor)>();
        foreach (var division in (await Server.Get($"/manuals/{manual}"))["divisions"]!.AsArray())
        foreach (var block in (await Server.Get($"/manuals/{manual}/divisions/{division!["id"]!.GetValue<string>()}"))["blocks"]!.AsArray())
        {
            var body = block!["body"] is JsonValue text ? JsonNode.Parse(text.GetValue<string>())! : block["body"]!;
            if (body["type"]!.GetValue<string>() != "figure")
                continue;
            var asset = body["attrs"]!["asset"]!.GetValue<string>();
            var bytes = await Server.Http.GetByteArrayAsync($"/api/manuals/{manual}/pictures/{Uri.EscapeDataString(asset)}");
            using var bitmap = SkiaSharp.SKBitmap.Decode(bytes);
            found.Add((Desks.TextOf(body), bitmap.GetPixel(4, 4)));
        }
        return found;
    }

    [Fact]
    public async Task A_picture_that_was_redrawn_is_a_difference_and_one_put_in_front_moves_none_to_another_caption()
    {
        var (red, green, blue) = (SkiaSharp.SKColors.Red, SkiaSharp.SKColors.Lime, SkiaSharp.SKColors.Blue);
        var manual = (await Take(await Start(Illustrated(("The lid", red), ("The drum", green)))))["manual"]!.GetValue<string>();
        Assert.Equal([("The lid", red), ("The drum", green)], await Shown(manual));
        var source = (await Server.Get($"/manuals/{manual}/sources")).AsArray()[0]!["id"]!.GetValue<string>();

        // The file names of both are those of the first version; only the drum was drawn anew.
        var redrawn = await Start(Illustrated(("The lid", red), ("The drum", blue)), query: $"?newer={source}");
        var one = Assert.Single(redrawn["differences"]!.AsArray())!;
        await Take(redrawn, one["id"]!.GetValue<string>());
        Assert.Equal([("The lid", red), ("The drum", blue)], await Shown(manual));

        // A new one in front takes the first name, and the others one name on.
        var inFront = await Start(Illustrated(("The crank", green), ("The lid", red), ("The drum", blue)), query: $"?newer={source}");
        var added = Assert.Single(inFront["differences"]!.AsArray())!;
        Assert.Equal("Added", added["kind"]!.GetValue<string>());
        await Take(inFront, added["id"]!.GetValue<string>());
        Assert.Equal([("The crank", green), ("The lid", red), ("The drum", blue)], await Shown(manual));
    }

    [Fact]
    public async Task While_documents_are_read_and_choices_change_every_look_at_them_is_answered()
    {
        using var form = new MultipartFormDataContent();
        for (var n = 0; n < 12; n++)
            form.Add(new ByteArrayContent(Leaflet($"{n}.4", n % 2 == 0)[..(n % 3 == 0 ? ^0 : ^900)]), "files", $"{n}.docx");
        var answer = await Server.Http.PostAsync("/api/bring-in", form);
        var id = JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["id"]!.GetValue<string>();
        var looks = Enumerable
            .Range(0, 60)
            .Select(async n =>
            {
                if (n % 6 == 5)
                    return await Server.Http.PutAsJsonAsync(
                        $"/api/bring-in/{id}/choices",
                        new { roles = new Dictionary<string, string> { ["look:bold"] = n % 4 == 0 ? "headB" : "headC" } }
                    );
                return await Server.Http.GetAsync($"/api/bring-in/{id}");
            });
        foreach (var look in await Task.WhenAll(looks))
            Assert.True(look.IsSuccessStatusCode, await look.Content.ReadAsStringAsync());
        var ready = await Desks.Until(
            () => Server.Get($"/bring-in/{id}"),
            v => v["state"]!.GetValue<string>() != "Reading",
            "The end of reading"
        );
        Assert.Equal(8, ready["files"]!.AsArray().Count(f => f!["problem"]?.GetValue<string>() is { Length: > 0 }));
    }
}
