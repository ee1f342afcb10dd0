using System.IO.Compression;
using System.Text;
using MiniExcelLibs;
using Zoltric.Web.Import;

namespace Zoltric.Web.Tests;

/// <summary>
/// A wire list as an office keeps it, brought in through the real screen: workbook and text, with rows that cannot be placed.
/// </summary>
public class WireListImportTests
{
    private sealed record Row(string Wire, string From, string To, string Colour, string Size);

    private static readonly Row[] Rows =
    [
        new("101", "G1:+", "F1:1", "RD", "2.5"),
        new("102", "F1:2", "S1:1", "RD", "1.5"),
        new("103", "S1:2", "H1:1", "YE", "1.5"),
        new("104", "H1:2", "GND1", "BK", "1.5"),
        new("105", "GND1", "G1:-", "BK", "2.5"),
        new("105", "GND1", "G1:-", "BK", "2.5"),
        new("106", "HI:2", "GND1", "BK", "1.5"),
        new("107", "S1:2", "", "YE", "1.5"),
    ];

    /// <summary>A few kilobytes that unpack to a hundred megabytes, a cell of a megabyte: said at once, and nothing is read.</summary>
    [Fact]
    public void A_file_that_is_small_only_outside_is_refused()
    {
        using var bomb = new MemoryStream();
        using (var archive = new ZipArchive(bomb, ZipArchiveMode.Create, leaveOpen: true))
        using (var sheet = archive.CreateEntry("xl/worksheets/sheet1.xml").Open())
        {
            var blank = new byte[1024 * 1024];
            for (var i = 0; i < 100; i++)
                sheet.Write(blank);
        }
        bomb.Length.ShouldBeLessThan(200_000);
        bomb.Position = 0;
        Should
            .Throw<InvalidDataException>(() => TableFile.Read(bomb, "wires.xlsx"))
            .Message.ShouldContain("holds more than a list of wires");
        using var broken = new MemoryStream([.. "PK"u8, 3, 4, 0, 0]);
        Should.Throw<InvalidDataException>(() => TableFile.Read(broken, "wires.xlsx")).Message.ShouldContain("cannot be read");
        using var cell = new MemoryStream(Encoding.UTF8.GetBytes($"Wire,From,To\n101,G1.+,{new string('x', 1_000_000)}\n"));
        Should.Throw<InvalidDataException>(() => TableFile.Read(cell, "wires.csv")).Message.ShouldContain("at most 1000");
    }

    [Theory]
    [InlineData(".xlsx")]
    [InlineData(".csv")]
    public void A_table_becomes_a_sheet_and_says_what_it_left_out(string extension)
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-wires");
        var file = Path.Combine(folder.FullName, "pump wires" + extension);
        if (extension == ".xlsx")
            MiniExcel.SaveAs(file, Rows);
        else
            File.WriteAllLines(file, Rows.Select(r => $"{r.Wire};{r.From};{r.To};{r.Colour};{r.Size}").Prepend("Wire;From;To;Colour;Size"));
        try
        {
            using var server = new ServerProcess();
            using var b = new Browser(1280, 800);
            b.Driver.Navigate().GoToUrl(server.Address);
            b.Click(() => b.All("a").Single(a => a.Text == "Wire list"));
            b.Find("input[type=file]").SendKeys(file);
            b.Click(() => b.Find(".import form button"));
            b.Until(() => b.Has(".tally"), "no result");
            b.Find(".tally").Text.ShouldBe("5 rows placed, 3 not.");
            var unplaced = b.All(".unplaced li").Select(l => l.Text).ToList();
            unplaced[0].ShouldContain("same wire stands in row 6");
            unplaced[1].ShouldContain("did you mean H1?");
            unplaced[2].ShouldContain("second end is missing");
            b.Shot("wire-list");
            // The row that names no second end is mended where it stands.
            b.Find("input[name='Mended[9:2]']").SendKeys("H1/1");
            b.Click(() => b.All(".columns-form button").Single());
            b.Until(() => b.Has(".tally") && b.Find(".tally").Text == "6 rows placed, 2 not.", "the mended row was not placed");
            b.All("section p").Select(p => p.Text).ShouldContain("H1 lights");
            // Another column for the second end leaves nothing to place, and says so; back again it is as before.
            b.Find("select[name='Columns.To'] option[value='-1']").Click();
            b.Click(() => b.All(".columns-form button").Single());
            b.Until(() => b.Has(".problem[role=alert]"), "no complaint");
            b.Find("select[name='Columns.To'] option[value='2']").Click();
            b.Click(() => b.All(".columns-form button").Single());
            b.Until(() => b.Has(".tally"), "no result");
            b.Click(() => b.All("button").Single(x => x.Text == "Go on with this sheet"));
            b.Until(() => b.Has("#sheet-text"), "no sheet");
            b.Find("#sheet-text").GetAttribute("value").ShouldNotBeNull().ShouldContain("path S1.2 -[w103 YE 1.5mm2]- H1.1");
            b.Find("#sheet-text").GetAttribute("value").ShouldNotBeNull().ShouldContain("function \"H1 lights\": H1 when s1=ON");
        }
        finally
        {
            folder.Delete(true);
        }
    }

    [Fact]
    public void What_is_no_table_is_refused_with_what_to_do()
    {
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.xlsx");
        File.WriteAllBytes(file, [0x50, 0x4b, 3, 4, 0, 1, 2, 3, 0, 0]);
        try
        {
            using var server = new ServerProcess();
            using var b = new Browser(1280, 800);
            b.Driver.Navigate().GoToUrl(server.Address + "/import");
            b.Find("input[type=file]").SendKeys(file);
            b.Click(() => b.Find(".import form button"));
            b.Until(() => b.Has(".problem[role=alert]"), "no complaint");
            b.All(".problem").Select(p => p.Text).ShouldContain(t => t.Contains("cannot be read", StringComparison.Ordinal));
        }
        finally
        {
            File.Delete(file);
        }
    }
}
