using System.Net;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.Browser.Tests;

/// <summary>Files come in through the browser, chosen or dropped, with their folders.</summary>
public sealed class UploadTests(Site site) : IClassFixture<Site>
{
    [Fact]
    public void A_folder_is_chosen_and_files_are_dropped_on_any_page()
    {
        var browser = site.Browser;
        var target = site.Folder("handed");
        Directory.CreateDirectory(target);
        browser.Go("/library/folders");
        browser.Find("#path").SendKeys(target);
        browser.Leave(() => browser.Click(".add-folder button", "Add folder"));
        browser.Go("/intake/files");
        browser.Click("[data-upload-folder] option", target);

        var source = MakeFolder(site.Folder("Night Adit"));
        browser.All("[data-upload][webkitdirectory]")[0].SendKeys(source);
        browser.FindText("#upload-panel [data-title]", "14 files uploaded, 1 refused");
        browser.FindText("#upload-panel li", "notes.exe\nNot a music, picture or text file.");
        Assert.Equal(
            Directory.GetFiles(source, "*", SearchOption.AllDirectories)
                .Where(path => !path.EndsWith(".exe", StringComparison.Ordinal))
                .Select(path => (Path.GetRelativePath(site.Folder(""), path), File.ReadAllBytes(path).Length))
                .Order(),
            Directory.GetFiles(target, "*", SearchOption.AllDirectories)
                .Select(path => (Path.GetRelativePath(target, path), File.ReadAllBytes(path).Length))
                .Order());

        // Dropped on another page; goes to the folder that was chosen before.
        browser.Go("/library/tracks");
        browser.Script(
            """
            const transfer = new DataTransfer();
            transfer.items.add(new File([new Uint8Array([255, 216, 255, 224])], "back.jpg", { lastModified: 1600000000000 }));
            for (const kind of ["dragover", "drop"]) document.querySelector("main").dispatchEvent(new DragEvent(kind,
                { dataTransfer: transfer, bubbles: true, cancelable: true }));
            """);
        browser.FindText("#upload-panel [data-title]", "1 file uploaded");
        Assert.Equal(4, new FileInfo(Path.Combine(target, "back.jpg")).Length);
        browser.Go("/library/tracks?words=night+adit");
        Testing.Browser.Until(
            () =>
            {
                browser.Go("/library/tracks?words=night+adit");
                return browser.TextOf("h1") == "12 tracks";
            },
            "the tracks to be in the library");

        // Files that arrive while a list is open do not move its rows, but are announced.
        Write(Path.Combine(target, "Night Adit", "Disc 2", "13 Sump.wav"), 13_000);
        browser.Leave(() => browser.Click("[data-list-changed]", "The list has changed"));
        browser.FindText("h1", "13 tracks");
        Assert.Empty(browser.Complaints());
    }

    /// <summary>Files from the person's own machine become a plan and one zip; the library does not list them.</summary>
    [Fact]
    public async Task Files_dropped_onto_convert_come_back_as_one_zip()
    {
        var browser = site.Browser;
        var source = site.Folder("Own Reel");
        Directory.CreateDirectory(source);
        Write(Path.Combine(source, "2 Quoinhead.wav"), 44_100);
        Write(Path.Combine(source, "10 Winding Rope.wav"), 44_100);
        File.WriteAllText(Path.Combine(source, "3 Broken.flac"), "no music");
        browser.Go("/convert");
        browser.Leave(() => browser.All("[data-upload][webkitdirectory]")[0].SendKeys(source));
        browser.FindText("[role=alert]", "1 file cannot be read. 3 Broken.flac");
        Assert.Equal(["Quoinhead", "Winding Rope"], browser.Texts(".plan-track strong"));
        Assert.Equal("true", browser.Find("#outside").GetAttribute("value"));
        site.ChooseTarget("Archive");
        browser.FindText(".total-bar", "Convert 2 tracks");
        site.StartRun();
        site.WaitForEnd();
        using var client = new HttpClient();
        using var zip = new System.IO.Compression.ZipArchive(
            await client.GetStreamAsync(new Uri(browser.Find("a[href$='/zip']").GetAttribute("href")!)));
        Assert.Equal([".flac", ".flac"], zip.Entries.Select(entry => Path.GetExtension(entry.Name)));
        browser.Go("/library/tracks?words=quoinhead");
        Assert.Equal("Nothing found", browser.TextOf("h1"));
        // The target itself is as before: its copies of music in the library are listed.
        browser.Go("/convert/targets/archive");
        Assert.Equal("false", browser.Find("#outside").GetAttribute("value"));
        Assert.Empty(browser.Complaints());
    }

    /// <summary>A folder is watched; what is put into it is converted with no further click.</summary>
    [Fact]
    public void A_drop_folder_converts_what_is_put_into_it()
    {
        var browser = site.Browser;
        string folder = site.Folder("Put here"), output = site.Folder("Filed");
        Directory.CreateDirectory(folder);
        browser.Go("/convert/folders");
        browser.FindText(".hint", "No folder is watched yet");
        browser.Find("#drop-path").SendKeys(folder);
        browser.Find("#drop-output").SendKeys(folder);
        browser.Leave(() => browser.Click(".target-form button", "Watch this folder"));
        browser.FindText("[role=alert]", "Copies cannot go into the drop folder itself");
        browser.Find("#drop-output").Clear();
        browser.Find("#drop-output").SendKeys(output);
        browser.Leave(() => browser.Click(".target-form button", "Watch this folder"));
        Write(Path.Combine(folder, "Stope.wav"), 44_100);
        browser.FindText("#drop-folders tr", $"{folder} Archive {output} 1 0 0");
        Assert.Single(Directory.GetFiles(output, "*.flac", SearchOption.AllDirectories));
        browser.Script("window.confirm = () => true");
        browser.Leave(() => browser.Click("#drop-folders button", "Remove"));
        browser.FindText(".hint", "No folder is watched yet");
        Assert.Empty(browser.Complaints());
    }

    /// <summary>Another site can make a browser send requests, but does not know the token.</summary>
    [Fact]
    public async Task Uploads_need_the_token_of_a_page()
    {
        using var client = new HttpClient { BaseAddress = site.Address };
        using var offer = new StringContent(
            """{"folder":1,"files":[{"path":"x.wav","bytes":3,"modifiedAt":0}]}""", System.Text.Encoding.UTF8, "application/json");
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsync(new Uri("/uploads", UriKind.Relative), offer)).StatusCode);
        using var bytes = new ByteArrayContent([1, 2, 3]);
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PutAsync(new Uri("/uploads/1?at=0", UriKind.Relative), bytes)).StatusCode);
    }

    /// <summary>No address leads to a file: everything is requested by number or by hash.</summary>
    [Fact]
    public async Task No_path_leads_out_of_what_is_served()
    {
        File.WriteAllText(site.Folder("secret.wav"), "not for anybody");
        using var client = new HttpClient { BaseAddress = site.Address };
        var secret = Uri.EscapeDataString(site.Folder("secret.wav"));
        string[] addresses =
        [
            $"/copies/{secret}/play", $"/copies/{secret}/file", "/copies/..%2f..%2fsecret.wav/file", "/copies/-1/file",
            "/copies/999999/file", "/copies/999999/waveform", $"/artwork/{secret}",
            "/artwork/..%2f..%2fwergamon.db", "/css/..%2f..%2fappsettings.json", "/lib/%2e%2e/%2e%2e/Wergamon.Web.dll",
            "/%2e%2e/%2e%2e/%2e%2e/etc/passwd", "/runs/999/zip",
        ];
        foreach (var address in addresses)
        {
            using var answer = await client.GetAsync(new Uri(address, UriKind.Relative));
            Assert.True(answer.StatusCode is HttpStatusCode.NotFound or HttpStatusCode.BadRequest, $"{address}: {answer.StatusCode}");
            Assert.DoesNotContain("not for anybody", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        // The list of a folder outside the music folders is empty, whatever it contains.
        Assert.Contains(
            "0 tracks",
            await client.GetStringAsync(new Uri("/library/tracks/folders?folder=" + Uri.EscapeDataString("/etc"), UriKind.Relative)),
            StringComparison.Ordinal);
    }

    private static string MakeFolder(string folder)
    {
        foreach (int number in Enumerable.Range(1, 12))
        {
            var path = Path.Combine(folder, $"Disc {1 + number / 7}", $"{number:00} Grube é {number}.wav");
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            Write(path, 1000 + number);
        }

        File.WriteAllText(Path.Combine(folder, "notes.exe"), "x");
        File.WriteAllText(Path.Combine(folder, "album.cue"), "TITLE x");
        File.WriteAllBytes(Path.Combine(folder, "cover.jpg"), [255, 216, 255]);
        return folder;
    }

    private static void Write(string path, long frames)
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using var writer = new WavWriter(File.Create(path), format);
        TestSound.Music(format, frames).CopyTo(writer);
    }
}
