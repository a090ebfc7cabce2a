using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>What comes in at the edge: other sites, wrong addresses, texts that no database takes. Each is answered with what is
/// wrong, and everything else goes on.</summary>
public class EdgeTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private async Task<(HttpStatusCode Status, string Text, HttpResponseMessage Response)> Send(
        HttpMethod method,
        string path,
        string? body = null,
        params (string Name, string Value)[] headers
    )
    {
        using var client = new HttpClient(new HttpClientHandler { UseCookies = false, AllowAutoRedirect = false })
        {
            BaseAddress = Server.Http.BaseAddress,
        };
        using var request = new HttpRequestMessage(method, path);
        if (body is not null)
            request.Content = new StringContent(body, Encoding.UTF8, "application/json");
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        var response = await client.SendAsync(request);
        return (response.StatusCode, await response.Content.ReadAsStringAsync(), response);
    }

    /// <summary>The interface's client is made from this document: KIVREN_WRITE_API=1 writes it anew; the
    /// check of the interface makes the client’s types of it.</summary>
    [Fact]
    public async Task The_document_of_the_API_is_the_one_that_the_interface_was_made_with()
    {
        var file = Path.Combine(ServerProcess.Root, "web", "src", "shared", "api-document.json");
        var served = (await Send(HttpMethod.Get, "/api/openapi.json")).Text.ReplaceLineEndings("\n");
        if (Environment.GetEnvironmentVariable("KIVREN_WRITE_API") == "1")
            await File.WriteAllTextAsync(file, served);
        Assert.Equal(await File.ReadAllTextAsync(file), served);
    }

    [Theory, InlineData("evil.example"), InlineData("127.0.0.1.evil.example"), InlineData("localhost.evil.example:80")]
    public async Task Another_host_is_served_nothing(string host)
    {
        foreach (var path in new[] { "/", "/api/manuals", "/live/negotiate" })
            Assert.Equal(HttpStatusCode.Forbidden, (await Send(HttpMethod.Get, path, null, ("Host", host))).Status);
    }

    [Fact]
    public async Task Another_site_can_neither_read_nor_change_anything()
    {
        var token = (await Server.Get("/site"))["token"]!.GetValue<string>();
        var own = new[] { ("Cookie", "kivren-site=" + token), ("X-Kivren-Site", token) };
        Assert.Equal(HttpStatusCode.OK, (await Send(HttpMethod.Post, "/api/manuals", "{\"title\":\"Mine\"}", own)).Status);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await Send(HttpMethod.Post, "/api/manuals", "{\"title\":\"x\"}", [.. own, ("Origin", "http://evil.example")])).Status
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await Send(HttpMethod.Post, "/api/manuals", "{\"title\":\"x\"}", [.. own, ("Origin", "null")])).Status
        );
        Assert.Equal(HttpStatusCode.Forbidden, (await Send(HttpMethod.Get, "/api/manuals", null, ("Sec-Fetch-Site", "cross-site"))).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await Send(HttpMethod.Post, "/api/manuals", "{\"title\":\"x\"}")).Status);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await Send(HttpMethod.Post, "/api/manuals", "{\"title\":\"x\"}", ("Cookie", "kivren-site=" + token))).Status
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (
                await Send(
                    HttpMethod.Post,
                    "/api/manuals",
                    "{\"title\":\"x\"}",
                    ("Cookie", "kivren-site=" + token),
                    ("X-Kivren-Site", new string('a', token.Length))
                )
            ).Status
        );
        Assert.Equal(HttpStatusCode.Forbidden, (await Send(HttpMethod.Get, "/live?id=x", null, ("Origin", "http://evil.example"))).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await Send(HttpMethod.Post, "/live/negotiate?negotiateVersion=1")).Status);
    }

    [Fact]
    public async Task Every_answer_says_what_may_run()
    {
        foreach (var path in new[] { "/api/manuals", "/api/nothing", "/faces/none.ttf" })
        {
            var (_, _, response) = await Send(HttpMethod.Get, path);
            Assert.DoesNotContain(
                "unsafe-inline'",
                response
                    .Headers.GetValues("Content-Security-Policy")
                    .Single()
                    .Split(';')
                    .Single(p => p.Contains("script-src", StringComparison.Ordinal)),
                StringComparison.Ordinal
            );
            Assert.Equal("nosniff", response.Headers.GetValues("X-Content-Type-Options").Single());
            Assert.Equal("DENY", response.Headers.GetValues("X-Frame-Options").Single());
        }
    }

    [Fact]
    public async Task Nothing_runs_in_a_picture_wherever_it_is_opened_from()
    {
        var demo = (await Server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        var name = (await Server.Get($"/manuals/{demo}"))["assets"]!
            .AsArray()
            .Select(a => a!.GetValue<string>())
            .First(a => a.EndsWith(".svg", StringComparison.Ordinal));
        var (status, _, response) = await Send(HttpMethod.Get, $"/api/manuals/{demo}/pictures/{name}");
        Assert.Equal(HttpStatusCode.OK, status);
        var policy = response.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("default-src 'none'", policy, StringComparison.Ordinal);
        Assert.Contains("sandbox", policy, StringComparison.Ordinal);
    }

    [Theory]
    [
        InlineData("GET", "/api/nothing", 404),
        InlineData("POST", "/api/nothing", 404),
        InlineData("GET", "/hangfire", 404),
        InlineData("DELETE", "/api/site", 404)
    ]
    [InlineData("GET", "/api/manuals/none/proof", 404), InlineData("GET", "/api/manuals/none/pages/x.svg", 404)]
    public async Task A_wrong_address_is_told_as_a_problem(string method, string path, int status)
    {
        var token = (await Server.Get("/site"))["token"]!.GetValue<string>();
        var (answered, text, response) = await Send(
            new HttpMethod(method),
            path,
            null,
            ("Cookie", "kivren-site=" + token),
            ("X-Kivren-Site", token)
        );
        Assert.Equal(status, (int)answered);
        Assert.NotEqual("", JsonNode.Parse(text)!["what"]!.GetValue<string>());
        Assert.Contains("json", response.Content.Headers.ContentType!.ToString(), StringComparison.Ordinal);
    }

    public static TheoryData<string> Bodies =>
        [
            """{"type":"paragraph","attrs":{"id":"ID"},"content":[{"type":"text","text":"a\u0000b"}]}""",
            """{"type":"paragraph","attrs":{"id":"ID"},"content":[{"type":"text","text":"\ud800"}]}""",
            """{"type":"figure","attrs":{"id":"ID","width":"abc"}}""",
            """{"type":"listing","attrs":{"id":"ID","marked":["x"]}}""",
            """
                {"type":"table","attrs":{"id":"ID","widths":[5],"columns":[{}]},"content":[
                {"type":"row","attrs":{"id":"ID-r"},"content":[{"type":"cell","attrs":{"id":"ID-c","columns":"x"}}]}]}
                """,
            "null",
            "[]",
            "\"x\"",
            "{",
        ];

    [Theory, MemberData(nameof(Bodies))]
    public async Task A_text_that_cannot_be_stored_is_answered_for_its_block_and_the_rest_goes_in(string body)
    {
        var manual = await Server.NewManual();
        var division = await Server.Chapter(manual);
        var (bad, good) = (Fresh(), Fresh());
        var answer = await Server.Send(
            manual,
            "w",
            Put(division, bad, 0, body.Replace("ID", bad, StringComparison.Ordinal), ""),
            Put(division, good, 0, Paragraph(good, "good words"), "")
        );
        Assert.Contains(answer["accepted"]!.AsArray(), a => a!["id"]!.GetValue<string>() == good);
        Assert.Contains(await Server.Blocks(manual, division), b => b.Text == "good words");
        // And the next saves as if nothing had been.
        var next = Fresh();
        Assert.Empty((await Server.Send(manual, "w", Put(division, next, 0, Paragraph(next, "next"), good)))["refused"]!.AsArray());
    }

    [Theory]
    [
        InlineData("/batches", "{\"id\":null}"),
        InlineData("/batches", "{\"id\":\"a\\u0000\",\"writer\":\"w\",\"label\":\"l\",\"blocks\":[]}")
    ]
    [
        InlineData("/batches", "{\"id\":\"a\",\"writer\":\"w\",\"label\":\"l\",\"blocks\":[null]}"),
        InlineData("/batches", "not json"),
        InlineData("/batches", "{\"id\":\"a\",\"writer\":\"w\",\"blocks\":\"x\"}")
    ]
    [
        InlineData("/plan/acts", "{\"id\":\"a\",\"writer\":\"w\",\"do\":\"rename\",\"rows\":[\"x\"],\"text\":\"a\\u0000\"}"),
        InlineData("/plan/acts", "{\"id\":\"a\",\"writer\":\"w\",\"do\":\"move\",\"rows\":null}")
    ]
    [
        InlineData("/roles", "{\"name\":\"Zap\",\"foundation\":\"nothing\\u0000\"}"),
        InlineData("/roles", "{\"name\":null,\"foundation\":null}"),
        InlineData("/keep-pattern", "{\"name\":null}")
    ]
    public async Task What_is_no_request_is_answered_400_with_what_is_wrong(string path, string body)
    {
        var manual = await Server.NewManual();
        var token = (await Server.Get("/site"))["token"]!.GetValue<string>();
        var (status, text, _) = await Send(
            HttpMethod.Post,
            $"/api/manuals/{manual}{path}",
            body,
            ("Cookie", "kivren-site=" + token),
            ("X-Kivren-Site", token)
        );
        Assert.True(status == HttpStatusCode.BadRequest, $"{status}: {text}\n{Server.Log}");
        Assert.NotEqual("", JsonNode.Parse(text)!["what"]!.GetValue<string>());
        Assert.Equal(204, (await Server.Post($"/manuals/{manual}/roles", new { name = "Good", foundation = "body" })).Status);
    }

    [Fact]
    public async Task A_title_of_megabytes_is_refused()
    {
        Assert.Equal(400, (await Server.Post("/manuals", new { title = new string('x', 2_000_000) })).Status);
        Assert.DoesNotContain((await Server.Get("/manuals")).AsArray(), m => m!["title"]!.GetValue<string>().Length > 1_000);
    }

    [Fact]
    public async Task Five_thousand_paragraphs_pasted_are_one_act_and_hold_nobody_up()
    {
        var manual = await Server.NewManual();
        var division = await Server.Chapter(manual);
        var ids = Enumerable.Range(0, 5_000).Select(_ => Fresh()).ToArray();
        var pasting = Server.Send(
            manual,
            "w",
            [.. ids.Select((id, i) => Put(division, id, 0, Paragraph(id, $"Paragraph {i}"), i == 0 ? "" : ids[i - 1]))]
        );
        var other = Fresh();
        await Server.Send(manual, "other", Put(division, other, 0, Paragraph(other, "meanwhile"), ""));
        Assert.Equal(5_000, (await pasting)["accepted"]!.AsArray().Count);
        var blocks = await Server.Blocks(manual, division);
        Assert.Equal(ids, blocks.Where(b => b.Id != other && b.Text.StartsWith("Paragraph", StringComparison.Ordinal)).Select(b => b.Id));
        Assert.Contains(blocks, b => b.Text == "meanwhile");
    }

    [Fact]
    public async Task An_empty_equation_prints_in_the_proof_and_in_the_PDF()
    {
        var manual = await Server.NewManual();
        var division = await Server.Chapter(manual);
        var id = Fresh();
        var body = new JsonObject
        {
            ["type"] = "paragraph",
            ["attrs"] = new JsonObject { ["id"] = id },
            ["content"] = new JsonArray(
                new JsonObject { ["type"] = "text", ["text"] = "Here " },
                new JsonObject
                {
                    ["type"] = "inlineEquation",
                    ["attrs"] = new JsonObject
                    {
                        ["id"] = id + "e",
                        ["source"] = "",
                        ["alternative"] = "",
                    },
                }
            ),
        };
        var act = (await Server.Send(manual, "w", Put(division, id, 0, body.ToJsonString(), "")))["act"]!.GetValue<long>();
        var proof = await Server.Settled(manual, act);
        foreach (var page in proof["runs"]![0]!["inserted"]!.AsArray())
            Assert.Contains(
                "<svg",
                await Server.Http.GetStringAsync($"/api/manuals/{manual}/pages/{page!["key"]}.svg"),
                StringComparison.Ordinal
            );
        await Server.Produced(manual);
    }

    [Fact]
    public async Task A_damaged_package_is_refused_with_what_is_wrong()
    {
        var demo = (await Server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        var package = await Server.Http.GetByteArrayAsync($"/api/manuals/{demo}/package");
        var random = new Random(5);
        for (var round = 0; round < 60; round++)
        {
            var bytes = round % 3 == 0 ? package[..random.Next(package.Length)] : package.ToArray();
            for (var n = random.Next(12); n >= 0 && bytes.Length > 0; n--)
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            var (status, body) = await Server.Post("/manuals/package", bytes);
            Assert.True(status is 200 or 400, $"{status}: {body}\n{Server.Log}");
            if (status == 400)
                Assert.NotEqual("", body!["what"]!.GetValue<string>());
        }
    }

    [Fact]
    public async Task Ready_says_whether_it_can_work_and_live_that_it_lives()
    {
        Assert.Equal(HttpStatusCode.OK, (await Server.Http.GetAsync("/api/live")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Server.Http.GetAsync("/api/ready")).StatusCode);
    }

    private static byte[] Png(int width, int height, SkiaSharp.SKColor colour)
    {
        using var bitmap = new SkiaSharp.SKBitmap(width, height);
        bitmap.Erase(colour);
        return bitmap.Encode(SkiaSharp.SKEncodedImageFormat.Png, 100).ToArray();
    }

    /// <summary>A PNG that says it is so large; its pixels are not there.</summary>
    private static byte[] Sized(byte[] png, int width, int height)
    {
        byte[] made = [.. png];
        System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(made.AsSpan(16), width);
        System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(made.AsSpan(20), height);
        var check = System.IO.Hashing.Crc32.Hash(made.AsSpan(12, 17));
        System.Array.Reverse(check);
        check.CopyTo(made, 29);
        return made;
    }

    [Fact]
    public async Task A_picture_comes_once_under_a_name_of_its_own_and_what_is_none_is_told()
    {
        var manual = await Server.NewManual();
        Task<(int Status, JsonNode? Body)> Bring(string name, byte[] bytes) =>
            Server.Post($"/manuals/{manual}/pictures?name={Uri.EscapeDataString(name)}&writer=w", bytes);
        var first = await Bring("drum.png", Png(4, 2, SkiaSharp.SKColors.Teal));
        Assert.Equal((200, "drum.png"), (first.Status, first.Body!["name"]!.GetValue<string>()));
        // The same bytes under any name are the picture there is.
        Assert.Equal("drum.png", (await Bring("other.png", Png(4, 2, SkiaSharp.SKColors.Teal))).Body!["name"]!.GetValue<string>());
        // Ten writers bring other pictures of the same name at once: each has its own.
        var many = await Task.WhenAll(
            Enumerable.Range(0, 10).Select(i => Bring("drum.png", Png(4, 2, new SkiaSharp.SKColor((byte)i, 9, 9))))
        );
        Assert.All(many, m => Assert.Equal(200, m.Status));
        Assert.Equal(10, many.Select(m => m.Body!["name"]!.GetValue<string>()).Where(n => n != "drum.png").Distinct().Count());
        foreach (
            var (name, bytes, what) in new[]
            {
                ("notes.txt", Encoding.UTF8.GetBytes("no picture"), "no picture"),
                ("run.svg", Encoding.UTF8.GetBytes("<svg viewBox='0 0 1 1' xmlns='http://www.w3.org/2000/svg'><script/></svg>"), "script"),
                ("large.png", new byte[(40 << 20) + 1], "MB"),
                ("", Png(1, 1, SkiaSharp.SKColors.Teal), "name"),
                ("huge.png", Sized(Png(4, 2, SkiaSharp.SKColors.Teal), 30_000, 30_000), "60 million"),
            }
        )
        {
            var (status, body) = await Bring(name, bytes);
            Assert.Equal(400, status);
            Assert.Contains(what, body!["what"]!.GetValue<string>(), StringComparison.Ordinal);
        }
        Assert.Equal(404, (await Server.Post("/manuals/nosuch/pictures?name=a.png&writer=w", Png(1, 1, SkiaSharp.SKColors.Red))).Status);
    }
}
