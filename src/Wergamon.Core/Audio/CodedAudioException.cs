namespace Wergamon.Core.Audio;

/// <summary>The container is understood, but what it holds is coded and needs a decoder.</summary>
public sealed class CodedAudioException(string message) : UnreadableAudioException(message);
