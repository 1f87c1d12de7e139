using Wergamon.App.Library.Listening;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Tags;

/// <summary>Tags are written to real files as runs, and taken back.</summary>
public sealed class TagWritingTests : IAsyncLifetime
{
    private readonly RunningApp _app = new();

    public async ValueTask InitializeAsync()
    {
        _app.AddTrack(1, 1);
        _app.AddTrack(2, 1);
        await _app.StartAsync();
        await _app.ScanAsync();
    }

    public async ValueTask DisposeAsync() => await _app.DisposeAsync();

    [Fact]
    public async Task Changes_are_written_and_undone_to_the_byte()
    {
        var (sheet, files) = Open();
        await RunningApp.UntilAsync(() => _app.Get<BackgroundAnalysis>().CountLeft() == 0);
        var before = files.ToDictionary(file => file.CopyId, file => File.ReadAllBytes(file.Path));
        Set(
            sheet, (files[0].CopyId, FieldNames.Title, ["Tallow and Wick"]), (files[0].CopyId, "lamp keeper", ["灯", "two"]),
            (files[1].CopyId, FieldNames.Genre, ["Waltz"]), (files[1].CopyId, FieldNames.Artist, []));
        Set(sheet, (files[0].CopyId, FieldNames.Artist, ["The Quarry Lamps"]));
        Assert.Equal(4, _app.Get<TagSheets>().Get(sheet)!.Edits);
        long run = _app.Get<TagRuns>().Write(sheet, allCopies: false)!.Value;
        Assert.All(await _app.EndAsync(run), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        Assert.Equal(0, _app.Get<TagSheets>().Get(sheet)!.Edits);
        Assert.Equal(["Tallow and Wick", "灯", "two"], Tags(files[0].Path)[FieldNames.Title].Concat(Tags(files[0].Path)["lamp keeper"]));
        Assert.Equal(["Waltz"], Tags(files[1].Path)[FieldNames.Genre].Concat(Tags(files[1].Path)[FieldNames.Artist]));
        Assert.Equal("Tallow and Wick", _app.Get<LibraryQueries>().TracksById([files[0].TrackId])[0].Title);
        Assert.Equal("Tallow and Wick", Mutagen.ReadAny(files[0].Path)["title"]![0]!.GetValue<string>());

        // The sound is known to be the same: its analysis stays.
        Assert.NotNull(_app.Get<LibraryQueries>().DigestOf(files[0].CopyId));

        long undo = _app.Get<TagRuns>().Undo(run)!.Value;
        Assert.All(await _app.EndAsync(undo), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        Assert.All(files, file => Assert.Equal(before[file.CopyId], File.ReadAllBytes(file.Path)));
        Assert.Equal("Track 1", _app.Get<LibraryQueries>().TracksById([files[0].TrackId])[0].Title);
        Assert.Null(_app.Get<TagRuns>().Undo(run));
    }

    [Fact]
    public async Task A_picture_and_a_name_are_written_and_undone()
    {
        var (sheet, files) = Open();
        var before = File.ReadAllBytes(files[0].Path);
        var picture = new Picture(PictureKind.Front, "image/png", "", TestTags.PictureBytes);
        var hash = _app.Get<TagSheets>().Store(sheet, picture);
        _app.Get<TagSheets>()
            .SetPictures(
                sheet,
                [
                    (files[0].CopyId,
                        [new PictureChoice(PictureKind.Front, "", hash), new PictureChoice(PictureKind.Back, "the back", hash)])
                ]);
        var wanted = Path.Combine(_app.Music, "Night Shift", "01 Track.wav");
        _app.Get<TagSheets>().SetNames(sheet, [(files[0].CopyId, wanted)]);
        long run = _app.Get<TagRuns>().Write(sheet, allCopies: false)!.Value;
        Assert.All(await _app.EndAsync(run), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        Assert.False(File.Exists(files[0].Path));
        Assert.Equal([PictureKind.Front, PictureKind.Back], Tags(wanted).Pictures.Select(each => each.Kind));
        Assert.Equal(wanted, _app.Get<LibraryQueries>().Copy(files[0].CopyId)!.Path);
        await _app.EndAsync(_app.Get<TagRuns>().Undo(run)!.Value);
        Assert.Equal(before, File.ReadAllBytes(files[0].Path));
        Assert.False(Directory.Exists(Path.GetDirectoryName(wanted)));
    }

    [Fact]
    public async Task A_file_that_was_changed_since_is_not_overwritten_by_undo()
    {
        var (sheet, files) = Open();
        Set(sheet, (files[0].CopyId, FieldNames.Title, ["Second"]));
        long first = _app.Get<TagRuns>().Write(sheet, false)!.Value;
        await _app.EndAsync(first);
        Set(sheet, (files[0].CopyId, FieldNames.Title, ["Third"]));
        long second = _app.Get<TagRuns>().Write(sheet, false)!.Value;
        await _app.EndAsync(second);
        var early = Assert.Single(await _app.EndAsync(_app.Get<TagRuns>().Undo(first)!.Value));
        Assert.Equal((ItemState.Failed, "The file was written again later. Undo that first."), (early.State, early.Failure));
        using (var stream = File.OpenRead(files[0].Path))
        {
            var other = FileReading.ReadTags(stream).Tags;
            other.Set(FieldNames.Title, "Outside");
            using var target = new MemoryStream();
            ((TaggedFormat)FileFormats.Of(stream)!).RewriteTags(stream, target, other);
            File.WriteAllBytes(files[0].Path + ".new", target.ToArray());
        }

        File.Move(files[0].Path + ".new", files[0].Path, overwrite: true);
        var refused = Assert.Single(await _app.EndAsync(_app.Get<TagRuns>().Undo(second)!.Value));
        Assert.Equal(ItemState.Failed, refused.State);
        Assert.Contains("changed by another program", refused.Failure, StringComparison.Ordinal);
        Assert.Equal(["Outside"], Tags(files[0].Path)[FieldNames.Title]);
    }

    [Fact]
    public async Task A_file_that_cannot_be_written_is_named_and_left_alone()
    {
        var (sheet, files) = Open();
        Set(sheet, (files[0].CopyId, FieldNames.Title, ["New"]), (files[1].CopyId, FieldNames.Title, ["Other"]));
        var bytes = File.ReadAllBytes(files[0].Path)[..^200];
        File.WriteAllBytes(files[0].Path, bytes);
        await _app.ScanAsync();
        var items = await _app.EndAsync(_app.Get<TagRuns>().Write(sheet, false, dropsUnreadable: true)!.Value);
        Assert.Equal([ItemState.Failed, ItemState.Done], items.Select(item => item.State));
        Assert.Contains("cannot be changed", items[0].Failure, StringComparison.Ordinal);
        Assert.Equal(bytes, File.ReadAllBytes(files[0].Path));
    }

    /// <summary>
    /// Another song, or another state of the same one, that takes the place of a reviewed file keeps its own tags, whenever it comes.
    /// </summary>
    [Theory]
    [InlineData("moved there")]
    [InlineData("written over")]
    [InlineData("touched")]
    [InlineData("scanned before writing")]
    public async Task A_file_that_took_the_place_of_the_reviewed_one_is_left_alone(string how)
    {
        var (sheet, files) = Open();
        Set(sheet, (files[0].CopyId, FieldNames.Title, ["New"]));
        var reviewed = _app.Get<TagSheets>().StateOf(sheet);
        var other = _app.AddTrack(7, 1.5, "Elsewhere");
        File.Move(other, _app.Folder["other.wav"]);
        var song = File.ReadAllBytes(_app.Folder["other.wav"]);
        if (how == "touched")
            File.SetLastWriteTimeUtc(files[0].Path, DateTime.UtcNow.AddHours(1));
        else if (how == "written over")
            File.WriteAllBytes(files[0].Path, song);
        else
            File.Move(_app.Folder["other.wav"], files[0].Path, overwrite: true);
        var before = File.ReadAllBytes(files[0].Path);
        if (how == "scanned before writing")
        {
            await _app.ScanAsync();
            Assert.Null(_app.Get<TagRuns>().Write(sheet, false, reviewed));
        }
        else
        {
            var item = Assert.Single(await _app.EndAsync(_app.Get<TagRuns>().Write(sheet, false, reviewed)!.Value));
            Assert.Equal(ItemState.Failed, item.State);
            Assert.Contains("changed since its tags were reviewed", item.Failure, StringComparison.Ordinal);
        }

        Assert.Equal(before, File.ReadAllBytes(files[0].Path));
    }

    /// <summary>Runs that follow one another before the first has ended write to the same file, one after the other.</summary>
    [Fact]
    public async Task A_second_run_writes_to_the_file_that_the_first_has_written()
    {
        var (sheet, files) = Open();
        var runs = new List<long>();
        foreach (var title in (string[])["One", "Two", "Three"])
        {
            Set(sheet, (files[0].CopyId, FieldNames.Title, [title]));
            runs.Add(_app.Get<TagRuns>().Write(sheet, false)!.Value);
        }

        foreach (long run in runs)
            Assert.Equal(
                (ItemState.Done, null), Assert.Single(await _app.EndAsync(run)) is var item ? (item.State, item.Failure) : default);
        Assert.Equal(["Three"], Tags(files[0].Path)[FieldNames.Title]);
    }

    /// <summary>What cannot be read of damaged tags is not removed by an unrelated change unless the person agreed to that.</summary>
    [Fact]
    public async Task Damaged_tags_are_written_only_where_that_was_agreed_to()
    {
        var path = Path.Combine(_app.Music, "damaged.wav");
        // An encrypted frame (ID3v2.4, 4.1.2, flag m) between two that can be read.
        PoisonFile.Write(path, ("TIT2", PoisonFile.Text("Adit")), ("PRIV", [1, 2, 3]), ("TPE1", PoisonFile.Text("Wickwire")));
        var bytes = File.ReadAllBytes(path);
        bytes[bytes.AsSpan().IndexOf("PRIV"u8) + 9] = 0x04;
        File.WriteAllBytes(path, bytes);
        await _app.ScanAsync();
        var copy = _app.Get<LibraryQueries>()
            .TracksById([.. Enumerable.Range(1, 5).Select(id => (long)id)])
            .Select(track => track.Master)
            .Single(master => master.Path == path);
        long sheet = _app.Get<TagSheets>().Create("Damaged", [copy.Id]);
        Set(sheet, (copy.Id, FieldNames.Title, ["New"]));
        Assert.Equal([copy.Id], _app.Get<TagSheets>().Damaged(sheet));
        var refused = Assert.Single(await _app.EndAsync(_app.Get<TagRuns>().Write(sheet, false)!.Value));
        Assert.Equal(ItemState.Failed, refused.State);
        Assert.Contains("The frame PRIV is encrypted", refused.Failure, StringComparison.Ordinal);
        Assert.Equal(bytes, File.ReadAllBytes(path));
        Set(sheet, (copy.Id, FieldNames.Title, ["New"]));
        await _app.EndAsync(_app.Get<TagRuns>().Write(sheet, false, dropsUnreadable: true)!.Value);
        Assert.Equal(["New", "Wickwire"], Tags(path)[FieldNames.Title].Concat(Tags(path)[FieldNames.Artist]));
    }

    /// <summary>A write in place that is cut off after any of its bytes is taken back to the old file.</summary>
    [Fact]
    public void Interrupted_write_restores_the_old_bytes()
    {
        var (_, files) = Open();
        var path = files[0].Path;
        var before = File.ReadAllBytes(path);
        var format = (TaggedFormat)FileFormats.Find("wav")!;
        long item = _app.Get<Database>().Change(connection =>
        {
            long run = _app.Get<RunStore>().Insert(connection, new NewRun(TagRuns.RunKind, "cut", "tags", null));
            return RunStore.InsertItem(connection, run, 0, new NewItem("none", "none", "cut", 1, "{}"));
        });
        var tags = Tags(path);
        tags.Set(FieldNames.Title, "A much longer title than there was");
        tags.Set(FieldNames.Comment, new string('c', 3000));
        TagEdit edit;
        IReadOnlyList<BytePatch> patches;
        using (var stream = File.OpenRead(path))
        {
            edit = format.EditTags(stream, tags, TagWriteOptions.Usual);
            Assert.True(edit.IsInPlace);
            patches = edit.Patches(stream);
            _app.Get<TagUndo>().Keep(item, files[0].CopyId, edit, edit.Inverse(stream), stream.Length);
        }

        int all = patches.Sum(patch => patch.Bytes.Length);
        for (int written = 0; written <= all; written += Math.Max(1, all / 60))
        {
            using (var target = new FileStream(path, FileMode.Open, FileAccess.ReadWrite))
            {
                int left = written;
                foreach (var patch in patches)
                {
                    int take = Math.Min(left, patch.Bytes.Length);
                    target.Position = patch.Offset;
                    target.Write(patch.Bytes.Span[..take]);
                    left -= take;
                }
            }

            _app.Get<TagFile>().Restore(path, item);
            Assert.Equal(before, File.ReadAllBytes(path));
        }
    }

    private (long Sheet, IReadOnlyList<SheetFile> Files) Open()
    {
        var album = Assert.Single(_app.Get<LibraryQueries>().Albums());
        long sheet = _app.Get<TagSheets>()
            .Create(album.Title, [.. _app.Get<LibraryQueries>().TracksOfAlbum(album.Id).Select(track => track.Master.Id)]);
        return (sheet, _app.Get<TagSheets>().Files(sheet));
    }

    private void Set(long sheet, params (long CopyId, string Field, IReadOnlyList<string> Values)[] changes) =>
        _app.Get<TagSheets>().SetFields(sheet, changes);

    private static TagSet Tags(string path)
    {
        using var stream = File.OpenRead(path);
        return FileReading.ReadTags(stream).Tags;
    }
}
