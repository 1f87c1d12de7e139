namespace Wergamon.Core.Discs;

/// <summary>A disc or disc image that cannot be used. The message says why, for a person.</summary>
public sealed class UnreadableDiscException : Exception
{
    public UnreadableDiscException(string message) : base(message) { }

    public UnreadableDiscException(string message, Exception inner) : base(message, inner) { }

    public UnreadableDiscException() { }
}
