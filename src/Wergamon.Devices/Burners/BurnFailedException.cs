namespace Wergamon.Devices.Burners;

/// <summary>A disc cannot be written, or could not be written to its end; the message is for the person.</summary>
public sealed class BurnFailedException : Exception
{
    public BurnFailedException(string message) : base(message) { }

    public BurnFailedException(string message, Exception inner) : base(message, inner) { }

    public BurnFailedException() { }

    /// <summary>True where the disc is of no use any more.</summary>
    public bool IsDiscSpoiled { get; init; }
}
