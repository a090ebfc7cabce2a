namespace Kivren.Server.Manuals;

/// <summary>Drawings of pages by what they show, bounded by their size; the longest unused go first.</summary>
public sealed class PageStore(long mostCharacters = 48L << 20)
{
    private readonly record struct Address(string Manual, string Key);

    private readonly Lock _lock = new();
    private readonly LinkedList<(Address Address, string Svg)> _order = new();
    private readonly Dictionary<Address, LinkedListNode<(Address Address, string Svg)>> _kept = [];
    private long _characters;

    public long Characters => _characters;

    public string? Find(string manual, string key)
    {
        lock (_lock)
        {
            if (!_kept.TryGetValue(new Address(manual, key), out var node))
                return null;
            _order.Remove(node);
            _order.AddLast(node);
            return node.Value.Svg;
        }
    }

    public void Keep(string manual, string key, string svg)
    {
        if (svg.Length > mostCharacters / 4)
            return;
        lock (_lock)
        {
            var address = new Address(manual, key);
            if (_kept.ContainsKey(address))
                return;
            _kept[address] = _order.AddLast((address, svg));
            _characters += svg.Length;
            while (_characters > mostCharacters)
                Remove(_order.First!);
        }
    }

    public void Forget(string manual)
    {
        lock (_lock)
            foreach (var node in _kept.Where(k => k.Key.Manual == manual).Select(k => k.Value).ToList())
                Remove(node);
    }

    private void Remove(LinkedListNode<(Address Address, string Svg)> node)
    {
        _order.Remove(node);
        _kept.Remove(node.Value.Address);
        _characters -= node.Value.Svg.Length;
    }
}
