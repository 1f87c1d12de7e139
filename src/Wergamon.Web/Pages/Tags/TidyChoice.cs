using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Tidying;

namespace Wergamon.Web.Pages.Tags;

/// <summary>The person's choices for all rules; each rule looks at its own.</summary>
public sealed record TidyChoice
{
    public CapitalStyle Style { get; init; } = CapitalStyle.Title;

    public string[] Fields { get; init; } = [FieldNames.Title, FieldNames.Album];

    public string Exceptions { get; init; } = string.Join(", ", Capitals.UsualExceptions);

    public GuestLocation Place { get; init; } = GuestLocation.Title;

    public int First { get; init; } = 1;

    public bool WithTotals { get; init; } = true;

    public bool YearOnly { get; init; }

    /// <summary>The chosen spelling of each group.</summary>
    public string[] Spelling { get; init; } = [];

    /// <summary>Genres of the files that the person's list does not have by this name.</summary>
    public string[] Genre { get; init; } = [];

    /// <summary>What becomes of each: a genre of the list, <see cref="Leave"/> or <see cref="TakeOut"/>.</summary>
    public string[] Becomes { get; init; } = [];

    public const string Leave = "", TakeOut = ":";
}
