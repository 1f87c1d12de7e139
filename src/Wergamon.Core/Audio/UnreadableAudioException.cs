namespace Wergamon.Core.Audio;

/// <summary>
/// Thrown by a reader when a file holds no audio that it can decode. The message is for the
/// person whose file it is. Damage that leaves something readable is reported by the reader instead.
/// </summary>
public class UnreadableAudioException : Exception
{
    public UnreadableAudioException(string message) : base(message) { }

    public UnreadableAudioException(string message, Exception inner) : base(message, inner) { }

    public UnreadableAudioException() { }
}
