namespace Wergamon.Demo.Music;

/// <summary>A small seeded generator (xorshift64*, Vigna 2016), the same everywhere.</summary>
internal sealed class Dice(ulong seed)
{
    private ulong _state = seed * 0x9E3779B97F4A7C15UL | 1;

    public double Uniform()
    {
        _state ^= _state >> 12;
        _state ^= _state << 25;
        _state ^= _state >> 27;
        return (_state * 0x2545F4914F6CDD1DUL >> 11) * (1.0 / (1UL << 53));
    }

    public double Noise() => 2 * Uniform() - 1;

    public int Below(int count) => (int)(Uniform() * count);

    public T Pick<T>(IReadOnlyList<T> choices) => choices[Below(choices.Count)];
}
