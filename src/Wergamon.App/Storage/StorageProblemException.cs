namespace Wergamon.App.Storage;

/// <summary>A change could not be written within the time its caller had. Nothing was changed.</summary>
public sealed class StorageProblemException : Exception
{
    public StorageProblemException(StorageProblem problem, Exception inner) : base(problem.Text, inner) { }

    public StorageProblemException(string message) : base(message) { }

    public StorageProblemException(string message, Exception inner) : base(message, inner) { }

    public StorageProblemException() { }
}
