namespace Wergamon.App.Files;

/// <summary>A file that has got another name.</summary>
public sealed record FileRename(string SourcePath, string FinalPath);
