namespace Wergamon.Worker;

/// <summary>A finished file did not read back as expected. The message says what differed.</summary>
public sealed class ProofException : Exception
{
    public ProofException(string message) : base(message) { }

    public ProofException(string message, Exception inner) : base(message, inner) { }

    public ProofException() { }
}
