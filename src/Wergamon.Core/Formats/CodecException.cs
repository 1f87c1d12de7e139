namespace Wergamon.Core.Formats;

/// <summary>Thrown when an encoder or decoder refuses; the message is for the person whose file it is.</summary>
public sealed class CodecException : Exception
{
    public CodecException(string message) : base(message) { }

    public CodecException(string message, Exception inner) : base(message, inner) { }

    public CodecException() { }
}
