namespace Wergamon.App.Files;

/// <summary>A file that has got another name.</summary>
public sealed record FileRename
{
    public string SourcePath { get; init; } = "";

    public string FinalPath { get; init; } = "";
}
