namespace Wergamon.App.Files;

/// <summary>A file that was renamed.</summary>
public sealed record FileRename(string SourcePath, string FinalPath);
