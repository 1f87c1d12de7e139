using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libfluidsynth 2.3 (package libfluidsynth3) with the instruments of timgm6mb-soundfont.</summary>
public static unsafe partial class LibFluidSynth
{
    private const string Library = "libfluidsynth.so.3";
    private const string SoundFont = "/usr/share/sounds/sf2/TimGM6mb.sf2";

    /// <summary>Plays messages, in order of time, as one channel of sound.</summary>
    public static float[] Render(IReadOnlyList<MidiEvent> events, double seconds, int rate)
    {
        nint settings = new_fluid_settings();
        fluid_settings_setnum(settings, "synth.sample-rate", rate);
        fluid_settings_setnum(settings, "synth.gain", 0.6);
        nint synth = new_fluid_synth(settings);
        try
        {
            if (fluid_synth_sfload(synth, SoundFont, 1) < 0)
                throw new FileNotFoundException("The instruments are missing: install timgm6mb-soundfont.", SoundFont);
            var sound = new float[(int)(seconds * rate)];
            var (left, right) = (new float[sound.Length], new float[sound.Length]);
            int at = 0;
            foreach (var message in events.Append(new MidiEvent(seconds, 0, MidiKind.NoteOff, 0, 0)))
            {
                int until = Math.Clamp((int)(message.Seconds * rate), at, sound.Length);
                fixed (float* toLeft = left, toRight = right)
                {
                    if (fluid_synth_write_float(synth, until - at, toLeft, at, 1, toRight, at, 1) != 0)
                        throw new InvalidOperationException("The synthesiser failed.");
                }

                at = until;
                _ = message.Kind switch
                {
                    MidiKind.NoteOn => fluid_synth_noteon(synth, message.Channel, message.Number, message.Velocity),
                    MidiKind.NoteOff => fluid_synth_noteoff(synth, message.Channel, message.Number),
                    _ => fluid_synth_program_change(synth, message.Channel, message.Number),
                };
            }

            for (int i = 0; i < sound.Length; i++)
                sound[i] = 0.5f * (left[i] + right[i]);
            return sound;
        }
        finally
        {
            delete_fluid_synth(synth);
            delete_fluid_settings(settings);
        }
    }

    [LibraryImport(Library)] private static partial nint new_fluid_settings();
    [LibraryImport(Library)] private static partial void delete_fluid_settings(nint settings);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int fluid_settings_setnum(
        nint settings, string name, double value);
    [LibraryImport(Library)] private static partial nint new_fluid_synth(nint settings);
    [LibraryImport(Library)] private static partial void delete_fluid_synth(nint synth);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int fluid_synth_sfload(
        nint synth, string path, int reset);
    [LibraryImport(Library)] private static partial int fluid_synth_program_change(nint synth, int channel, int program);
    [LibraryImport(Library)] private static partial int fluid_synth_noteon(nint synth, int channel, int key, int velocity);
    [LibraryImport(Library)] private static partial int fluid_synth_noteoff(nint synth, int channel, int key);
    [LibraryImport(Library)]
    private static partial int fluid_synth_write_float(
        nint synth, int frames, float* left, int leftOffset, int leftStep, float* right, int rightOffset, int rightStep);
}
