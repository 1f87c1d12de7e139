namespace Wergamon.Core.Audio;

/// <summary>
/// The one exception that a reader throws when a file holds nothing it can give as sound. The message is for the
/// person whose file it is. Damage that leaves something to read is reported by the reader instead.
/// </summary>
public sealed class UnreadableAudioException : Exception
{
    public UnreadableAudioException(string message) : base(message) { }

    public UnreadableAudioException(string message, Exception inner) : base(message, inner) { }

    public UnreadableAudioException() { }
}
