using Wergamon.App.Sets;

namespace Wergamon.Web.Pages.Sets;

/// <summary>The figures of a track as fields.</summary>
/// <param name="Address">Where they are sent.</param>
/// <param name="Target">The part of the answer that is shown, as a selector.</param>
/// <param name="ItemId">The place in a set; null outside of one.</param>
public sealed record FiguresForm(SetTrack Track, string Address, string Target, long? ItemId, string? Refusal);
