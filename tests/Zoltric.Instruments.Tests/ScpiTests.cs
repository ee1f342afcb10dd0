using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Zoltric.Core.Metering;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Meters;
using Zoltric.Instruments.StandIns;

namespace Zoltric.Instruments.Tests;

/// <summary>
/// The driver against the stand-in, each against a peer that is not ours: the stand-in is called by a plain socket of the shell, the driver
/// through a serial line that another program makes.
/// </summary>
public sealed class ScpiTests
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static async Task<ScpiMeter> Open(string address) =>
        await ScpiMeter.Open(await InstrumentAddress.Read(address).Address!.Open(Stop), Stop);

    [Fact]
    public async Task Volts_ohms_and_overload_come_through_the_socket()
    {
        var machine = Bench.Simulated();
        await using var there = new ScpiMeterStandIn(() => machine) { Pace = TimeSpan.FromMilliseconds(1) };
        await using var meter = await Open(there.Address);
        meter.Name.ShouldContain("Stand-in meter");
        meter.Function.ShouldBe(MeterFunction.DcVolts);
        (await meter.Read(Stop)).Value.ShouldBeInRange(0, 0.1);
        machine.Stand(Bench.Test("key=ON : V R1.1").Setup);
        machine.Touch(Bench.Test("key=ON : V R1.1").Probe);
        (await meter.Read(Stop)).Value.ShouldBe(12.47, 0.02);
        await meter.Select(MeterFunction.Ohms, Stop);
        (await meter.Read(Stop)).IsOverload.ShouldBeTrue();
        machine.Stand(Bench.Test("off G1 : ohm R1").Setup);
        machine.Touch(Bench.Test("off G1 : ohm R1").Probe);
        (await meter.Read(Stop)).Value.ShouldBe(6, 0.05);
    }

    /// <summary>Bash opens the socket itself: nothing of ours on that side.</summary>
    [Fact]
    public async Task The_stand_in_answers_a_plain_socket_as_the_standard_has_it()
    {
        await using var there = new ScpiMeterStandIn(() => Bench.Simulated()) { Pace = TimeSpan.FromMilliseconds(1) };
        var port = there.Address.Split(':')[1];
        var said = await Task.Run(
            () =>
                Bench.Run(
                    "bash",
                    "",
                    "-c",
                    $"exec 3<>/dev/tcp/127.0.0.1/{port}; printf '%s\\n' '*IDN?' ':CONFigure:RESistance' 'conf?;func?' 'read?' "
                        + "'WAVE:LENGTH?' 'SYSTem:ERRor?' 'SYST:ERR:NEXT?' 'FUNC \"VOLT:AC\"' 'SENS:FUNC?' >&3; head -n 6 <&3"
                ),
            Stop
        );
        var lines = said.TrimEnd().Split('\n');
        lines[0].Split(',').Length.ShouldBe(4, "IEEE 488.2, 10.14");
        lines[1].ShouldBe("\"RES\";\"RES\"");
        lines[2].ShouldBe("+9.90000000E+37", "SCPI-1999, 7.2.1: infinity, with the tips in the air");
        lines[3].ShouldStartWith("-113,", Case.Sensitive, "undefined header");
        lines[4].ShouldStartWith("+0,");
        lines[5].ShouldBe("\"VOLT:AC\"");
    }

    /// <summary>
    /// A pair of terminals of the kernel, made by socat, with the stand-in behind: the serial port is one that other programs use.
    /// </summary>
    [Fact]
    public async Task A_serial_line_carries_the_same()
    {
        var machine = Bench.Simulated();
        machine.Stand(Bench.Test("key=ON : drop R2").Setup);
        machine.Touch(Bench.Test("key=ON : drop R2").Probe);
        await using var there = new ScpiMeterStandIn(() => machine) { Pace = TimeSpan.FromMilliseconds(1) };
        using var line = Process.Start(
            new ProcessStartInfo("socat", ["-d", "-d", "PTY,raw,echo=0", $"TCP:{there.Address}"]) { RedirectStandardError = true }
        )!;
        try
        {
            string? port = null;
            while (port is null && await line.StandardError.ReadLineAsync(Stop) is { } said)
                if (said.IndexOf("PTY is ", StringComparison.Ordinal) is >= 0 and var at)
                    port = said[(at + "PTY is ".Length)..].Trim();
            await using var link = await new InstrumentAddress.Serial(port.ShouldNotBeNull(), 115200).Open(Stop);
            await using var meter = await ScpiMeter.Open(link, Stop);
            (await meter.Read(Stop)).Value.ShouldBe(0.5, 0.01);
        }
        finally
        {
            line.Kill();
        }
    }

    [Fact]
    public async Task A_dial_turned_by_hand_is_noticed_and_said()
    {
        await using var there = new ScpiMeterStandIn(() => Bench.Simulated()) { Pace = TimeSpan.FromMilliseconds(1) };
        await using var meter = await Open(there.Address);
        await meter.Read(Stop);
        there.Function = MeterFunction.Ohms;
        var why = await Should.ThrowAsync<InstrumentException>(async () =>
        {
            for (var i = 0; i < 20; i++)
                await meter.Read(Stop);
        });
        why.Message.ShouldContain("turned to ohms");
        meter.Function.ShouldBe(MeterFunction.Ohms);
    }

    /// <summary>Somebody who answers each line with this, and then hangs up.</summary>
    private static async Task<string> Answers(TcpListener listener, params byte[][] answers)
    {
        listener.Start();
        _ = Task.Run(async () =>
        {
            using var client = await listener.AcceptTcpClientAsync();
            await using var stream = client.GetStream();
            var buffer = new byte[256];
            foreach (var answer in answers)
            {
                _ = await stream.ReadAsync(buffer);
                await stream.WriteAsync(answer);
            }
            await Task.Delay(200);
        });
        await Task.Yield();
        return listener.LocalEndpoint.ToString()!;
    }

    private static byte[] Text(string text) => Encoding.ASCII.GetBytes(text);

    [Theory]
    [InlineData("hello\n", "does not say its name")]
    [InlineData("\x01\x02\x03\n", "no text")]
    [InlineData("A,B,1,2\nVOLT\nfish\n", "no reading")]
    [InlineData("A,B,1,2\nVOLT\n9.91E37\n", "nothing to show")]
    [InlineData("A,B,1,2\nVOLT\n", "hung up")]
    public async Task Nonsense_is_said_in_words(string sent, string said)
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        var address = await Answers(listener, Text(sent));
        var why = await Should.ThrowAsync<InstrumentException>(async () =>
        {
            await using var meter = await Open(address);
            while (true)
                await meter.Read(Stop);
        });
        why.Message.ShouldContain(said);
    }

    [Theory]
    [InlineData("192.168.4.20", "192.168.4.20:5025")]
    [InlineData(" 10.0.0.7:9001 ", "10.0.0.7:9001")]
    [InlineData("/dev/ttyUSB0", "/dev/ttyUSB0@9600")]
    [InlineData("/dev/ttyACM1@115200", "/dev/ttyACM1@115200")]
    public void An_address_is_read(string text, string address) => InstrumentAddress.Read(text).Address!.ToString().ShouldBe(address);

    [Theory]
    [InlineData("", "no address")]
    [InlineData("meter.example.com", "no address")]
    [InlineData("8.8.8.8:80", "not in this network")]
    [InlineData("172.32.0.1", "not in this network")]
    [InlineData("192.168.4.20:0", "no port")]
    [InlineData("192.168.4.20:99999", "no port")]
    [InlineData("/dev/sda", "no serial port")]
    [InlineData("/dev/tty../sda", "no serial port")]
    [InlineData("/dev/ttyUSB0@fast", "no speed")]
    public void What_is_none_is_refused_with_the_reason(string text, string why)
    {
        var (address, said) = InstrumentAddress.Read(text);
        address.ShouldBeNull();
        said.ShouldNotBeNull().ShouldContain(why);
    }

    [Fact]
    public async Task Nobody_there_is_said_and_not_waited_for()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var address = listener.LocalEndpoint.ToString()!;
        listener.Stop();
        (await Should.ThrowAsync<InstrumentException>(() => Open(address))).Message.ShouldContain("No meter answers");
    }
}
