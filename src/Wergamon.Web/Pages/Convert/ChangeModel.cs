using Wergamon.App.Convert;

namespace Wergamon.Web.Pages.Convert;

/// <summary>How picked lines deviate from the plan.</summary>
public sealed record ChangeModel(PlanView View, IReadOnlyList<PlanLine> Lines)
{
    /// <summary>Ways to split the only one of them.</summary>
    public IReadOnlyList<FoundSplit> Splits { get; init; } = [];

    /// <summary>What has just been done, or why it was not.</summary>
    public string? Notice { get; init; }

    public bool IsRefused { get; init; }

    /// <summary>The times that were typed and refused.</summary>
    public string? TypedMarks { get; init; }

    public bool OnSectors { get; init; }

    /// <summary>Their places, in one field.</summary>
    public string Numbers => string.Join(',', Lines.Select(line => line.Position));
}
