using System.Text.Json;
using CsCheck;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Sync;

public sealed class SyncKeyTests
{
    [Theory]
    [InlineData("17", null, 17L, 0)]
    [InlineData("5/17/2", 5L, 17L, 2)]
    [InlineData("list 5", 5L, null, 0)]
    public void Keys_keep_the_text_that_libraries_hold(string text, long? listId, long? trackId, int occurrence)
    {
        var key = SyncKey.Parse(text);
        Assert.Equal((listId, trackId, occurrence, trackId is null), (key.ListId, key.TrackId, key.Occurrence, key.IsPlaylist));
        Assert.Equal(text, key.ToString());
    }

    [Fact]
    public void Different_keys_have_different_texts()
    {
        var key =
            from kind in Gen.Int[0, 2]
            from list in Gen.Long[1, 3]
            from track in Gen.Long[1, 3]
            from occurrence in Gen.Int[0, 2]
            select kind switch
            {
                0 => SyncKey.OfTrack(track),
                1 => SyncKey.OfPlaylist(list),
                _ => SyncKey.OfPlace(list, track, occurrence),
            };
        Gen.Select(key, key).Sample((one, other) =>
            SyncKey.Parse(one.ToString()) == one && (one == other) == (one.ToString() == other.ToString()));
    }

    /// <summary>The step that ends a run has no file.</summary>
    [Theory]
    [InlineData("\"\"", "")]
    [InlineData("\"5/17/2\"", "5/17/2")]
    public void Documents_hold_keys_as_text(string json, string text)
    {
        var key = JsonSerializer.Deserialize<SyncKey>(json);
        Assert.Equal((text, json), (key.ToString(), JsonSerializer.Serialize(key)));
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<SyncKey>("\"lost\""));
    }

    /// <summary>Keys come back from forms, and so does anything else.</summary>
    [Fact]
    public void Any_other_text_is_not_a_key()
    {
        string?[] texts = [null, "", "list", "list ", "list -1", "list 05", "-1", "1/2", "1/2/", "1/2/3/4", "1/2/99999999999", "٣", " 1"];
        Assert.All(texts, text => Assert.Null(SyncKey.TryParse(text)));
        Gen.OneOf(Gen.String, Gen.String[Gen.Char["0123456789/list -"], 0, 12]).Sample(text =>
            SyncKey.TryParse(text) is not { } key || key.ToString() == text);
    }
}
