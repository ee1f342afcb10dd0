using System.Net;
using System.Net.Sockets;
using System.Text;
using Zoltric.Core.Notation;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;
using Zoltric.Instruments.Captures;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Scopes;
using Zoltric.Instruments.StandIns;

namespace Zoltric.Instruments.Tests;

/// <summary>Waveforms by SCPI: the driver against the stand-in, the stand-in against a plain socket, the driver against nonsense.</summary>
public sealed class DigitizerTests
{
    private const string Sheet = """
        sheet "one valve"
        nominal 12V dc
        control key: OFF*, ON
        part G1 battery emf=12.6V internal=100mohm
        part S1 switch "key"
          closed 1-2 when key=ON
        part Y1 coil 12V 12ohm "valve"
        path G1.+ -[w1]- S1 -[w2]- Y1 -[w3]- G1.-
        function "valve": Y1 when key=ON
        """;

    private static readonly Machine s_machine = new(SheetReader.Read(Sheet).Value!);

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static (SimulatedMachine, Watch) Valve(string faults = "")
    {
        Core.Circuits.Test Of(string line) => ReadingReader.Read(s_machine.Circuit, line).Value!.Test;
        var hidden = faults.Length == 0 ? [] : FaultReader.Read(s_machine.Circuit, faults).Value!;
        return (
            new SimulatedMachine(s_machine, hidden),
            new Watch(
                Core.Circuits.Setup.Rest,
                Of("key=ON : V G1.+ = 0V").Setup.Steps[0],
                0.1,
                [Of(" : V G1.+ G1.- = 0V").Probe, Of(" : clamp w1 = 0A").Probe]
            )
        );
    }

    private static async Task<ScpiDigitizer> Open(string address) =>
        await ScpiDigitizer.Open(await InstrumentAddress.Read(address).Address!.Open(Stop), Stop);

    /// <summary>
    /// A valve that is switched on, seen through a clamp of 100 mV an ampere: ohms and inductance of the whole loop by the ramp, L/R of the
    /// textbook (Kuphaldt, Lessons in Electric Circuits, DC, chapter 16). Written as a file and read again it is the same.
    /// </summary>
    [Theory]
    [InlineData("", 12.1, true)]
    [InlineData("w2 resists 4ohm", 16.1, true)]
    [InlineData("w2 resists 4ohm", 16.1, false)]
    public async Task A_coils_ramp_comes_through_with_its_ohms(string fault, double ohms, bool binary)
    {
        var bench = Valve(fault);
        await using var there = new ScpiDigitizerStandIn(() => bench, 0, binary);
        await using var scope = await Open(there.Address);
        await scope.Arm(Stop);
        var capture = await scope.Fetch(Stop);
        capture.Channels.Select(c => c.Name).ShouldBe(["CH1", "CH2"]);
        capture.Length.ShouldBe(0.1, 1e-3);
        var (again, why) = CaptureFile.Read(CaptureFile.Write(capture));
        again.ShouldNotBeNull(why).Channels[1].Values.ShouldBe(capture.Channels[1].Values, 1e-6);
        again.Channels[1].Unit.ShouldBe("V");
        var amps = capture.Channels[1].Scaled(10, "A").Values;
        var ramp = CoilRamp.Find(capture.Seconds, amps).ShouldNotBeNull();
        ramp.Ohms(12.6).ShouldBe(ohms, 0.06 * ohms);
        ramp.Start.ShouldBe(0.01, 1e-3);
        ramp.Henries(12.6).ShouldBe(0.096, 0.2 * 0.096);
    }

    [Fact]
    public async Task The_stand_in_answers_a_plain_socket()
    {
        var bench = Valve();
        await using var there = new ScpiDigitizerStandIn(() => bench);
        var port = there.Address.Split(':')[1];
        var said = await Task.Run(
            () =>
                Bench.Run(
                    "bash",
                    "",
                    "-c",
                    $"exec 3<>/dev/tcp/127.0.0.1/{port}; printf '%s\\n' 'TRACe:CATalog?;:SENSe:SWEep:POINts?' 'INITiate;*OPC?' "
                        + "':SENS:SWE:POIN?' "
                        + "'trac:cat?' 'TRACe:DATA? CH2' 'TRAC? CH9' 'FORM REAL,64' 'SYST:ERR?' 'SYST:ERR?' >&3; head -n 7 <&3"
                ),
            Stop
        );
        var lines = said.TrimEnd().Split('\n');
        lines[0].ShouldBe(";0");
        lines[1].ShouldBe("1");
        lines[2].ShouldBe("4000");
        lines[3].ShouldBe("\"CH1\",\"CH2\"");
        lines[4].Split(',').Length.ShouldBe(4000);
        lines[5].ShouldStartWith("-224,");
        lines[6].ShouldStartWith("-224,");
    }

    /// <summary>
    /// Bytes as a plain socket gets them: head, length, singles with the high byte first, as od reads them, which has them from low to
    /// high.
    /// </summary>
    [Fact]
    public async Task A_block_of_bytes_is_what_another_program_reads()
    {
        var bench = Valve();
        await using var there = new ScpiDigitizerStandIn(() => bench);
        var port = there.Address.Split(':')[1];
        const int bytes = 4 * ScpiDigitizerStandIn.Points;
        var said = await Task.Run(
            () =>
                Bench.Run(
                    "bash",
                    "",
                    "-c",
                    $"exec 3<>/dev/tcp/127.0.0.1/{port}; printf '%s\\n' 'INIT;*OPC?' >&3; head -n 1 <&3; "
                        + "printf '%s\\n' 'FORM:BORD NORM;:FORM:DATA REAL,32;:TRAC? CH1' >&3; "
                        + $"head -c 7 <&3; echo; head -c {bytes} <&3 | od -An -v --endian=big -t f4 -w4"
                ),
            Stop
        );
        var lines = said.TrimEnd().Split('\n');
        lines[0].ShouldBe("1");
        lines[1].ShouldBe($"#5{bytes}");
        var volts = lines[2..].Select(l => double.Parse(l, System.Globalization.CultureInfo.InvariantCulture)).ToArray();
        volts.Length.ShouldBe(ScpiDigitizerStandIn.Points);
        // Nothing is drawn at first, then 12.6 V over 12 and a tenth of an ohm.
        volts[0].ShouldBe(12.6, 0.01);
        volts[^1].ShouldBe(12.6 - 0.1 * 12.6 / 12.1, 0.01);
    }

    [Fact]
    public async Task With_nothing_on_the_bench_it_says_that_it_cannot()
    {
        await using var there = new ScpiDigitizerStandIn(() => null);
        await using var scope = await Open(there.Address);
        (await Should.ThrowAsync<InstrumentException>(() => scope.Arm(Stop))).Message.ShouldContain("cannot");
        (await Should.ThrowAsync<InstrumentException>(() => scope.Fetch(Stop))).Message.ShouldContain("no time from point to point");
    }

    /// <summary>What answers anything at all, and never a waveform.</summary>
    [Theory]
    [InlineData("hello", "no SCPI instrument")]
    [InlineData("a,b,c,d", "is no figure")]
    [InlineData("a,b,c,d|1E-3|", "names 0 channels")]
    [InlineData("a,b,c,d|1E-3|\"CH1\"|1,2,x", "is no figure")]
    [InlineData("a,b,c,d|1E-3|\"CH1\",\"CH2\"|1,2,3|1,2", "different lengths")]
    [InlineData("a,b,c,d|1E-3|\"CH1\"|7", "1 points")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|1,2,3", "no block of bytes")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#0abcd", "no block of bytes")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#2x9abc", "no block of bytes")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#15abcde", "no number of singles")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#14abcde", "More bytes")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#9999999999", "announces 999999999 bytes")]
    [InlineData("!a,b,c,d|1E-3|\"CH1\"|#18ab", "No answer from")]
    public async Task Nonsense_is_refused_in_words(string answers, string says)
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var serving = Task.Run(
            async () =>
            {
                using var client = await listener.AcceptTcpClientAsync(Stop);
                using var reader = new StreamReader(client.GetStream(), Encoding.ASCII);
                // With a mark before its answers it takes the order for bytes; else it knows text only.
                var left = new Queue<string>(answers.TrimStart('!').Split('|'));
                var error = answers.StartsWith('!') ? "0,\"No error\"" : "-113,\"Undefined header\"";
                while (await reader.ReadLineAsync(Stop) is { } line)
                    if (line.Contains('?', StringComparison.Ordinal))
                    {
                        var answer =
                            line == "SYST:ERR?" ? error
                            : left.TryDequeue(out var a) ? a
                            : "?";
                        await client.GetStream().WriteAsync(Encoding.ASCII.GetBytes(answer + "\n"), Stop);
                    }
            },
            Stop
        );
        var problem = await Should.ThrowAsync<InstrumentException>(async () =>
        {
            await using var scope = await Open(listener.LocalEndpoint.ToString()!);
            await scope.Fetch(Stop);
        });
        problem.Message.ShouldContain(says);
        // It may have been hung up on in the middle of a word.
        await serving.ContinueWith(_ => { }, TaskScheduler.Default);
    }
}
