namespace Wergamon.App.Copies;

/// <summary>A file has the name of the new copy, and the rule is to skip the copy then.</summary>
internal sealed class NameTakenException : Exception;
