using System.Diagnostics;
using OpenQA.Selenium;

namespace Zoltric.Web.Tests;

/// <summary>
/// An engine that fires badly, found by a capture: the ignition coil's volts and current as a simulator of others (ngspice) has them on a
/// machine with 2.5 Ω in the feed, brought in as the file that it writes, judged, weighed, traced to the plug, mended, shown and closed.
/// </summary>
public sealed class WeakFeedTests
{
    private const string Sheet = """
        sheet "Log splitter LS-1: ignition"
        machine "Log splitter LS-1" family offroad
        nominal 12V dc
        drawn from traced
        control key: OFF*, RUN
        part G1 battery 12V emf=12.6V internal=20mohm "battery" at "frame" reach 2min
        part F1 fuse 10A blade "ignition fuse" at "panel" reach 1min
        part S1 switch "key switch" at "panel" reach 2min
          closed 1-2 when key=RUN
        part X1 connector 2 sides frame|engine "engine plug" at "bulkhead" reach 3min
        part L1 coil 12V 3ohm "ignition coil" at "engine" reach 4min
        part A1 module "igniter" at "engine" reach 4min
          supply 1 ground 2
          output 3 low pulsed 50% when powered
        part GND1 stud "engine ground" at "engine" reach 3min
        path G1.+ -[w1 RD 4mm2 1m]- F1 -[w2 RD 1.5mm2 1m]- S1 -[w3 BU 1.5mm2 2m]- X1:1 -[w4 BU 1.5mm2 1m]- L1 -[w5 BK 1.5mm2 0.5m]- A1.3
        path F1.2 -[w6 RD 1mm2 2m]- X1:2 -[w7 RD 1mm2 1m]- A1.1
        path A1.2 -[w8 BK 1.5mm2 0.5m]- GND1 -[w9 BK 6mm2 2m]- G1.-
        function "it sparks": L1 when key=RUN
        """;

    /// <summary>2.5 Ω before a coil of 3 Ω and 8 mH, on for 5 ms of every 10; the current through a clamp of 100 mV an ampere.</summary>
    private const string Netlist = """
        weak feed of an ignition coil
        V1 b 0 12.6
        R1 b p 2.52
        R2 p x 3
        L1 x c 8m
        C1 c 0 1u
        S1 c 0 g 0 igniter
        .model igniter SW(Ron=0.05 Roff=10Meg vt=2.5)
        VG g 0 PULSE(0 5 1m 1u 1u 5m 10m)
        .control
        tran 20u 60m
        let feed = v(p)
        let clamp = -0.1*i(V1)
        set wr_singlescale
        set wr_vecnames
        wrdata feed.txt feed clamp
        quit
        .endc
        .end
        """;

    private static string Captured(string folder)
    {
        File.WriteAllText(Path.Combine(folder, "feed.cir"), Netlist);
        using var spice = Process.Start(
            new ProcessStartInfo("ngspice", ["-b", "feed.cir"])
            {
                WorkingDirectory = folder,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        spice.StandardOutput.ReadToEnd();
        spice.WaitForExit(60_000).ShouldBeTrue();
        var file = Path.Combine(folder, "feed.txt");
        File.Exists(file).ShouldBeTrue(spice.StandardError.ReadToEnd());
        return file;
    }

    [Fact]
    public void A_weak_feed_is_found_by_a_capture_and_the_job_closed()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-feed");
        try
        {
            using var server = new ServerProcess();
            using var b = new Browser(1280, 900);
            b.Driver.Navigate().GoToUrl(server.Address);
            b.As("Orla Venn");
            b.Driver.Navigate().GoToUrl($"{server.Address}/sheet");
            b.Until(() => b.Has(".cm-content"), "no editor");
            b.Driver.ExecuteScript("zoltricEditor.set(arguments[0])", Sheet);
            b.Click(".actions .go");
            b.Until(() => b.Driver.Url.Contains("/circuit/", StringComparison.Ordinal), "the machine was not kept");
            b.Driver.Navigate().GoToUrl(server.Address);
            var choice = b.All("select[name=Function] option").Single(o => o.Text == "it sparks");
            b.Driver.ExecuteScript("arguments[0].selected = true", choice);
            b.Find("select[name=State]").SendKeys("weak");
            b.Fill("input[name=Complaint]", "fires badly and stalls");
            b.Click("button.go");
            b.Until(() => b.Has(".intake"), "no intake");
            Technician.MakeSafe(b);
            b.Click(() => b.All("a.go").Last());
            b.Until(() => b.Has("#order"), "no trace");
            Technician.MakeSafe(b);
            var trace = b.Driver.Url.Split('?')[0];

            b.Driver.Navigate().GoToUrl(trace.Replace("/trace", "/captures", StringComparison.Ordinal));
            b.Find("[name=file]").SendKeys(Captured(folder.FullName));
            b.Fill("form[enctype] [name=setup]", "key=RUN");
            b.Click("form[enctype] button.go");
            b.Until(() => b.Has(".capture-chart"), "no chart");
            b.Driver.ExecuteScript(
                "var on = document.querySelectorAll('[name=on]'), per = document.querySelectorAll('[name=per]');"
                    + "on[0].value = 'V L1.1'; on[1].value = 'clamp w4'; per[1].value = '10'"
            );
            b.Click(".channels-form button");
            b.Until(() => b.Has(".keep-lines") && !b.Has(".problem"), "the channels were not kept");
            // 12.6 V behind 2.52 Ω: by Ohm's law, and not by anything of ours.
            b.Says(".found").ShouldContain("2.52 Ω");
            var chart = b.Driver.Url;
            foreach (var figure in new[] { "V L1.1 min", "clamp w4 peak" })
            {
                b.Driver.Navigate().GoToUrl(chart);
                b.Click(() =>
                    b.All(".keep-lines form")
                        .Single(f => f.Text.Contains(figure, StringComparison.Ordinal))
                        .FindElement(By.TagName("button"))
                );
                b.Until(() => b.Driver.Url.EndsWith("/trace", StringComparison.Ordinal), $"{figure} is not kept");
            }
            (b.Find(".log").GetAttribute("textContent") ?? "").ShouldContain("clamp w4 peak = ");

            new Technician(server, b, Sheet, "X1:1 resists 2.5ohm").Trace().ShouldBeLessThanOrEqualTo(8);
            b.Says(".order .found").ShouldContain("X1");
            b.Click(".order .found a");
            b.Until(() => b.Has("input[name=Cause]"), "no finding form");
            b.Fill("input[name=Repair]", "pin 1 renewed on both halves");
            b.Fill("input[name=Cause]", "water in the plug");
            b.Click(() => b.All("button").Single(x => x.Text == "Keep the finding"));
            b.Until(() => b.All("button").Any(x => x.Text == "Close the job"), "the finding was not kept");
            Technician.ShowMended(server, b, Sheet);
            b.Click(() => b.All("button").Single(x => x.Text == "Close the job"));
            b.Until(() => b.Has(".report") || b.Has("section:last-child .problem"), "nothing said of the close");
            b.Has(".report").ShouldBeTrue(b.Has(".report") ? "" : b.Says("section:last-child .problem"));
            b.Has(".report .capture-chart").ShouldBeTrue("the report shows the capture");
            server.Said.ShouldNotContain("Exception");
        }
        finally
        {
            folder.Delete(true);
        }
    }
}
