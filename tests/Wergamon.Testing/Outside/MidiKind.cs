namespace Wergamon.Testing.Outside;

public enum MidiKind
{
    NoteOff,
    NoteOn,
    Program,
}
