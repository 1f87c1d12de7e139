using System.Runtime.InteropServices;

namespace Wergamon.Testing;

public enum MidiKind
{
    NoteOff,
    NoteOn,
    Program,
}
