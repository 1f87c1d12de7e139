namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// Merges the channels of several sources, each in the position of its role: channels are stored in ascending order
/// of their roles. Samples are not changed. Ends with the shortest source.
/// </summary>
public sealed class ChannelJoinReader : IPcmReader
{
    private readonly IReadOnlyList<IPcmReader> _parts;
    private readonly SampleBuffer[] _blocks;
    private readonly int[] _held;
    private readonly int[] _at;

    /// <summary>For each channel in the order of the parts, its position in the output.</summary>
    private readonly int[] _places;

    /// <param name="parts">Integers of one rate and depth; owned from now on.</param>
    /// <param name="roles">The role of each channel, in the order of the parts; no role twice.</param>
    public ChannelJoinReader(IReadOnlyList<IPcmReader> parts, IReadOnlyList<ChannelRoles> roles)
    {
        var first = parts[0].Format;
        if (parts.Any(part => part.Format.IsFloat || part.Format.Rate != first.Rate || part.Format.Bits != first.Bits))
            throw new UnreadableAudioException("The parts of the title do not fit together: rate and bit depth have to be the same.");
        if (parts.Sum(part => part.Format.Channels) != roles.Count || roles.Distinct().Count() != roles.Count
            || roles.Any(role => role.Count() != 1))
            throw new UnreadableAudioException("Each channel of the title needs a loudspeaker of its own.");
        _parts = parts;
        _blocks = [.. parts.Select(part => new SampleBuffer(part.Format))];
        _held = new int[parts.Count];
        _at = new int[parts.Count];
        var order = roles.Order().ToList();
        _places = [.. roles.Select(role => order.IndexOf(role))];
        Format = first with { Channels = roles.Count, Roles = roles.Aggregate(ChannelRoles.None, (all, role) => all | role) };
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _parts.Min(part => part.FrameCount);

    public IReadOnlyList<string> Damage => [.. _parts.SelectMany(part => part.Damage)];

    public int Read(SampleBuffer block)
    {
        int frames = block.Capacity;
        for (int p = 0; p < _parts.Count; p++)
        {
            if (_at[p] == _held[p])
                (_held[p], _at[p]) = (_parts[p].Read(_blocks[p]), 0);
            frames = Math.Min(frames, _held[p] - _at[p]);
        }

        block.FrameCount = frames;
        var to = block.Integers;
        for (int p = 0, channel = 0; p < _parts.Count; p++)
        {
            int width = _blocks[p].Format.Channels;
            var from = frames == 0 ? default : _blocks[p].Integers.Slice(_at[p] * width, frames * width);
            for (int c = 0; c < width; c++, channel++)
            {
                for (int frame = 0, source = c, target = _places[channel]; frame < frames;
                frame++, source += width, target += Format.Channels)
                    to[target] = from[source];
            }

            _at[p] += frames;
        }

        return frames;
    }

    public void Dispose()
    {
        foreach (var part in _parts)
            part.Dispose();
    }
}
