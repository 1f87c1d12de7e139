namespace Wergamon.Core.Names;

/// <summary>Orders names as people do: runs of digits by their value, so that 9 comes before 10; case does not count.</summary>
public sealed class NaturalOrder : IComparer<string>
{
    public static readonly NaturalOrder Instance = new();

    public int Compare(string? x, string? y)
    {
        ReadOnlySpan<char> a = x, b = y;
        while (!a.IsEmpty && !b.IsEmpty)
        {
            int order = char.IsAsciiDigit(a[0]) && char.IsAsciiDigit(b[0]) ? CompareNumbers(ref a, ref b) : CompareLetters(ref a, ref b);
            if (order != 0)
                return order;
        }

        int rest = a.Length.CompareTo(b.Length);
        return rest != 0 ? rest : string.CompareOrdinal(x, y);
    }

    private static int CompareLetters(ref ReadOnlySpan<char> a, ref ReadOnlySpan<char> b)
    {
        int order = char.ToUpperInvariant(a[0]).CompareTo(char.ToUpperInvariant(b[0]));
        a = a[1..];
        b = b[1..];
        return order;
    }

    private static int CompareNumbers(ref ReadOnlySpan<char> a, ref ReadOnlySpan<char> b)
    {
        var first = TakeDigits(ref a);
        var second = TakeDigits(ref b);
        return first.Length != second.Length ? first.Length.CompareTo(second.Length) : first.SequenceCompareTo(second);
    }

    private static ReadOnlySpan<char> TakeDigits(ref ReadOnlySpan<char> text)
    {
        int end = text.IndexOfAnyExceptInRange('0', '9');
        var digits = end < 0 ? text : text[..end];
        text = text[digits.Length..];
        return digits.TrimStart('0');
    }
}
