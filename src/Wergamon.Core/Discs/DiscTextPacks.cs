using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Discs;

/// <summary>
/// Disc text as stored in the lead-in: packs of 18 bytes, each with its kind, track, sequence number, block, twelve bytes of
/// text and a checksum (IEC 60908 amendment; layout from MMC-3, annex J). The first block is read and written, in
/// ISO 8859-1; characters outside it are written without their accents or as a question mark. Where the lead-in cannot hold
/// all of it, the longest texts are shortened.
/// </summary>
public static class DiscTextPacks
{
    public const int PackLength = 18;

    private const int HeaderLength = 4;
    private const int PayloadLength = 12;
    private const int CheckedLength = 16;
    private const int MaxPacks = 256;

    /// <summary>Longer texts of a single track are cut (common practice, no source: players show fewer).</summary>
    private const int MaxText = 160;
    private const byte DoubleByteFlag = 0x80;
    private const byte English = 0x09;

    private const byte TitleKind = 0x80, PerformerKind = 0x81, SongwriterKind = 0x82, ComposerKind = 0x83, ArrangerKind = 0x84,
        MessageKind = 0x85;
    private const byte IdentificationKind = 0x86, CodeKind = 0x8E, SizeKind = 0x8F;

    private static readonly byte[] TrackKinds = [
        TitleKind, PerformerKind, SongwriterKind, ComposerKind, ArrangerKind, MessageKind, CodeKind
    ];

    /// <summary>Packs for the lead-in; empty without text.</summary>
    /// <param name="text">What to write.</param>
    /// <param name="lastTrack">The number of the last track, of which the first is 1.</param>
    public static byte[] Write(DiscText text, int lastTrack)
    {
        if (text.IsEmpty)
            return [];
        // The longest length that fits, found by halving.
        int fits = 0, tooLong = MaxText + 1;
        while (tooLong - fits > 1)
        {
            int length = (fits + tooLong) / 2;
            if (Pack(text, lastTrack, length).Count <= MaxPacks)
                fits = length;
            else
                tooLong = length;
        }

        var packs = Pack(text, lastTrack, fits);
        for (int i = 0; i < packs.Count; i++)
        {
            packs[i][2] = (byte)i;
            BinaryPrimitives.WriteUInt16BigEndian(packs[i].AsSpan(CheckedLength), Crc16.Of(packs[i].AsSpan(0, CheckedLength)));
        }

        return [.. packs.SelectMany(pack => pack)];
    }

    /// <summary>The text as players will read it from the packs.</summary>
    public static DiscText AsWritten(DiscText text, int lastTrack) => Read(Write(text, lastTrack)).Text;

    /// <param name="maxText">Longer texts are cut off there.</param>
    private static List<byte[]> Pack(DiscText text, int lastTrack, int maxText)
    {
        var packs = new List<byte[]>();
        foreach (byte kind in TrackKinds)
        {
            var words = Enumerable.Range(0, lastTrack + 1)
                .Select(
                    number => number == 0
                        ? Field(text.Album, kind)
                        : text.Tracks.TryGetValue(number, out var entry)
                        ? Field(entry, kind)
                        : null).ToList();
            if (words.Any(word => !string.IsNullOrEmpty(word)))
                AddText(packs, kind, words, maxText);
        }

        if (!string.IsNullOrEmpty(text.DiscIdentification))
            AddText(packs, IdentificationKind, [text.DiscIdentification], maxText);
        AddSizes(packs, lastTrack);
        return packs;
    }

    /// <param name="data">Whole packs; an incomplete one is ignored.</param>
    public static DiscTextReading Read(ReadOnlySpan<byte> data)
    {
        int broken = 0;
        var bytes = new Dictionary<(byte Kind, int Track), List<byte>>();
        var at = new Dictionary<byte, int>();
        for (; data.Length >= PackLength && bytes.Count <= TrackKinds.Length * (AudioDisc.MaxTracks + 2); data = data[PackLength..])
        {
            var pack = data[..PackLength];
            if (Crc16.Of(pack[..CheckedLength]) != BinaryPrimitives.ReadUInt16BigEndian(pack[CheckedLength..]))
            {
                broken++;
                // What follows cannot be assigned until a pack says which track it starts with.
                at.Remove(pack[0]);
                continue;
            }

            bool isFirstBlock = (pack[3] & 0x70) == 0;
            if (isFirstBlock && (pack[3] & DoubleByteFlag) == 0 && pack[0] is >= TitleKind and <= CodeKind
                && (pack[0] == IdentificationKind || TrackKinds.Contains(pack[0])))
                TakePayload(pack, bytes, at);
        }

        string? Word(byte kind, int track) =>
            bytes.TryGetValue((kind, track), out var text) && text.Count > 0
                ? WellFormedText.From(Encoding.Latin1.GetString([.. text]))
                : null;
        DiscTextEntry Entry(int track) => new()
        {
            Title = Word(TitleKind, track),
            Performer = Word(PerformerKind, track),
            Songwriter = Word(SongwriterKind, track),
            Composer = Word(ComposerKind, track),
            Arranger = Word(ArrangerKind, track),
            Message = Word(MessageKind, track),
            Code = Word(CodeKind, track),
        };
        var tracks = bytes.Keys.Where(key => key.Track > 0).Select(key => key.Track).Distinct().Order().ToDictionary(track => track, Entry);
        return new DiscTextReading(new DiscText(Entry(0), tracks) { DiscIdentification = Word(IdentificationKind, 0) }, broken);
    }

    private static void TakePayload(ReadOnlySpan<byte> pack, Dictionary<(byte Kind, int Track), List<byte>> bytes, Dictionary<byte, int> at)
    {
        byte kind = pack[0];
        int track = pack[1] & 0x7F;
        int alreadyWritten = pack[3] & 0x0F;
        if (!at.TryGetValue(kind, out int current) || current != track)
        {
            // The pack starts a text, or continues one whose start was lost.
            if (alreadyWritten > 0 && bytes.GetValueOrDefault((kind, track)) is not { Count: > 0 })
                bytes[(kind, track)] = [.. Enumerable.Repeat((byte)'?', alreadyWritten)];
            at[kind] = track;
        }

        for (int i = HeaderLength; i < CheckedLength; i++)
        {
            if (pack[i] == 0)
            {
                at[kind] = ++track;
                continue;
            }

            if (track <= AudioDisc.MaxTracks)
            {
                if (!bytes.TryGetValue((kind, track), out var text))
                    bytes[(kind, track)] = text = [];
                text.Add(pack[i]);
            }
        }
    }

    private static string? Field(DiscTextEntry entry, byte kind) => kind switch
    {
        TitleKind => entry.Title,
        PerformerKind => entry.Performer,
        SongwriterKind => entry.Songwriter,
        ComposerKind => entry.Composer,
        ArrangerKind => entry.Arranger,
        MessageKind => entry.Message,
        _ => entry.Code,
    };

    private static void AddText(List<byte[]> packs, byte kind, List<string?> words, int maxText)
    {
        byte[]? pack = null;
        int used = 0;
        for (int track = 0; track < words.Count; track++)
        {
            var text = ToLatin1(words[track] ?? "").Take(maxText);
            int written = 0;
            foreach (byte each in text.Append((byte)0))
            {
                if (pack is null || used == PayloadLength)
                {
                    pack = new byte[PackLength];
                    (pack[0], pack[1], pack[3]) = (kind, (byte)track, (byte)Math.Min(15, written));
                    packs.Add(pack);
                    used = 0;
                }

                pack[HeaderLength + used++] = each;
                written++;
            }
        }
    }

    /// <summary>
    /// Three packs with the number of packs of each kind, the range of tracks and the language.
    /// </summary>
    private static void AddSizes(List<byte[]> packs, int lastTrack)
    {
        var sizes = new byte[3 * PayloadLength];
        (sizes[0], sizes[1], sizes[2]) = (0, 1, (byte)lastTrack);
        foreach (var pack in packs)
            sizes[4 + pack[0] - TitleKind]++;
        sizes[4 + SizeKind - TitleKind] = 3;
        sizes[20] = (byte)(packs.Count + 3 - 1);
        sizes[28] = English;
        for (int i = 0; i < 3; i++)
        {
            var pack = new byte[PackLength];
            (pack[0], pack[1]) = (SizeKind, (byte)i);
            sizes.AsSpan(i * PayloadLength, PayloadLength).CopyTo(pack.AsSpan(HeaderLength));
            packs.Add(pack);
        }
    }

    private static byte[] ToLatin1(string text)
    {
        var bytes = new List<byte>();
        foreach (var rune in WellFormedText.Normalize(text.ReplaceLineEndings(" "), NormalizationForm.FormC).EnumerateRunes())
        {
            // A letter with a mark that Latin-1 lacks goes without its mark.
            char plain = rune.Value < 256 ? (char)rune.Value : WellFormedText.Normalize(rune.ToString(), NormalizationForm.FormD)[0];
            bytes.Add(plain < 256 ? (byte)plain : (byte)'?');
        }

        return [.. bytes];
    }
}
