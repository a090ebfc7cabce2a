namespace Kivren.Desk.Tests;

public class OrderKeyTests
{
    [Fact]
    public void There_is_always_a_place_between_any_two()
    {
        var random = new Random(7);
        var keys = new List<string>();
        for (var n = 0; n < 4000; n++)
        {
            var at = random.Next(4) switch
            {
                0 => 0,
                1 => keys.Count,
                _ => random.Next(keys.Count + 1),
            };
            var key = OrderKey.Between(at > 0 ? keys[at - 1] : null, at < keys.Count ? keys[at] : null);
            keys.Insert(at, key);
        }
        Assert.Equal(keys, keys.Order(StringComparer.Ordinal));
        Assert.Equal(keys.Count, keys.Distinct().Count());
        Assert.DoesNotContain(keys, k => k.EndsWith('0'));
    }

    [Fact]
    public void Typing_at_the_same_place_again_and_again_keeps_keys_short()
    {
        var last = "i";
        for (var n = 0; n < 1000; n++)
            last = OrderKey.Between(last, null);
        Assert.True(last.Length < 40, last);
    }

    [Theory]
    [InlineData(1), InlineData(35), InlineData(36), InlineData(5000)]
    public void Even_keys_are_in_order_with_room_everywhere(int count)
    {
        var keys = Enumerable.Range(0, count).Select(i => OrderKey.Even(i, count)).ToList();
        Assert.Equal(keys, keys.Order(StringComparer.Ordinal));
        Assert.Equal(count, keys.Distinct().Count());
        for (var i = 1; i < count; i++)
            Assert.True(string.CompareOrdinal(keys[i - 1], OrderKey.Between(keys[i - 1], keys[i])) < 0);
    }

    [Fact]
    public void Keys_the_wrong_way_round_are_refused() => Assert.Throws<ArgumentException>(() => OrderKey.Between("b", "a"));
}
