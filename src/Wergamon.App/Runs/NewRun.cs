namespace Wergamon.App.Runs;

/// <summary>A run to be made.</summary>
public sealed record NewRun(RunKind Kind, string Title, string Purpose, string? OutputFolder);
