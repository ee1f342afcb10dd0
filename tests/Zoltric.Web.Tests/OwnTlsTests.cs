using System.Diagnostics;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Zoltric.Web.People;

namespace Zoltric.Web.Tests;

/// <summary>The workshop's own certificates, checked by OpenSSL, and the phone's cache at a host name.</summary>
public sealed class OwnTlsTests
{
    private static readonly DateTimeOffset Now = new(2026, 3, 1, 8, 0, 0, TimeSpan.Zero);

    private sealed class Clock : TimeProvider
    {
        public DateTimeOffset At { get; set; } = Now;

        public override DateTimeOffset GetUtcNow() => At;
    }

    private static string Pem(string folder, string name, X509Certificate2 certificate)
    {
        var file = Path.Combine(folder, name);
        File.WriteAllText(file, certificate.ExportCertificatePem());
        return file;
    }

    /// <summary>Exit code and words of <c>openssl verify</c> as of a day in March 2026.</summary>
    private static (int Code, string Said) Verify(string authority, string leaf, params string[] more)
    {
        using var p = Process.Start(
            new ProcessStartInfo(
                "openssl",
                [
                    "verify",
                    "-x509_strict",
                    "-purpose",
                    "sslserver",
                    "-attime",
                    $"{Now.AddDays(2).ToUnixTimeSeconds()}",
                    .. more,
                    "-CAfile",
                    authority,
                    leaf,
                ]
            )
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;
        var said = p.StandardOutput.ReadToEnd() + p.StandardError.ReadToEnd();
        p.WaitForExit();
        return (p.ExitCode, said);
    }

    /// <summary>RFC 5280, by OpenSSL: a good chain for the machine's names and addresses, and for nothing else that the key might
    /// sign.</summary>
    [Fact]
    public void The_authority_vouches_for_this_machine_and_for_no_other()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-tls").FullName;
        var authority = new OwnAuthority(
            folder,
            ["Van-Laptop", "faults.workshop.internal"],
            () => [IPAddress.Parse("192.168.7.20"), IPAddress.Parse("203.0.113.9")],
            new Clock()
        );
        using var root = X509CertificateLoader.LoadCertificate(authority.Certificate);
        root.HasPrivateKey.ShouldBeFalse();
        var (ca, leaf) = (Pem(folder, "ca.pem", root), Pem(folder, "leaf.pem", authority.ServerCertificate()));
        foreach (var name in new[] { "van-laptop", "van-laptop.local", "faults.workshop.internal", "localhost" })
            Verify(ca, leaf, "-verify_hostname", name).ShouldSatisfyAllConditions(v => v.Code.ShouldBe(0, v.Said));
        foreach (var address in new[] { "192.168.7.20", "127.0.0.1" })
            Verify(ca, leaf, "-verify_ip", address).ShouldSatisfyAllConditions(v => v.Code.ShouldBe(0, v.Said));
        // What others can have is not in it.
        Verify(ca, leaf, "-verify_ip", "203.0.113.9").Code.ShouldNotBe(0);
        // Whoever gets hold of the key can vouch for no other site with it.
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        using var stolen = X509CertificateLoader.LoadPkcs12FromFile(Path.Combine(folder, "authority.pfx"), null);
        var request = new CertificateRequest("CN=bank.example", key, HashAlgorithmName.SHA256);
        var names = new SubjectAlternativeNameBuilder();
        names.AddDnsName("bank.example");
        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(request.PublicKey, false));
        request.CertificateExtensions.Add(X509AuthorityKeyIdentifierExtension.CreateFromCertificate(stolen, true, false));
        using var other = request.Create(stolen, Now, Now.AddDays(90), [1, 2, 3, 4]);
        var (code, said) = Verify(ca, Pem(folder, "other.pem", other));
        code.ShouldNotBe(0);
        said.ShouldContain("permitted subtree violation");
        if (!OperatingSystem.IsWindows())
            File.GetUnixFileMode(Path.Combine(folder, "authority.pfx")).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
        Directory.Delete(folder, true);
    }

    [Fact]
    public void The_servers_certificate_follows_its_addresses_and_is_made_anew_before_it_ends()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-tls").FullName;
        var clock = new Clock();
        List<IPAddress> addresses = [IPAddress.Parse("10.0.0.4")];
        OwnAuthority Start() => new(folder, ["van-laptop"], () => addresses, clock);
        var authority = Start();
        var first = authority.ServerCertificate();
        authority.ServerCertificate().ShouldBeSameAs(first);
        (first.NotAfter.ToUniversalTime() - first.NotBefore.ToUniversalTime()).TotalDays.ShouldBeLessThanOrEqualTo(398);
        addresses.Add(IPAddress.Parse("10.0.0.5"));
        var second = authority.ServerCertificate();
        second.SerialNumber.ShouldNotBe(first.SerialNumber);
        second.MatchesHostname("10.0.0.5").ShouldBeTrue();
        clock.At = Now.AddDays(397 - 30 + 1);
        authority.ServerCertificate().SerialNumber.ShouldNotBe(second.SerialNumber);
        // Another start is the same authority: phones go on trusting it.
        Start().Fingerprint.ShouldBe(authority.Fingerprint);
        Directory.Delete(folder, true);
    }

    /// <summary>No PIN goes over plain http: there is no more there than what it takes to trust the server.</summary>
    [Fact]
    public async Task Phones_are_sent_from_http_to_https_and_get_the_certificate_before_they_are_let_in()
    {
        using var server = ServerProcess.Secure("--Zoltric:Workshop", "true", "--Zoltric:OwnScreen", "false");
        using var phone = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new Uri(server.Address) };
        var stop = TestContext.Current.CancellationToken;
        foreach (var page in new[] { "/", "/people/sign-in", "/people/pair?code=X", "/jobs/2/trace", "/api/v1/jobs/2/export" })
        {
            using var answer = await phone.GetAsync(page, stop);
            ((int)answer.StatusCode).ShouldBe(302, page);
            answer.Headers.Location!.ToString().ShouldBe($"https://127.0.0.1:{server.SecurePort}{page}");
        }
        (await phone.GetStringAsync("/trust", stop)).ShouldContain($"https://127.0.0.1:{server.SecurePort}/");
        using var root = X509CertificateLoader.LoadCertificate(await phone.GetByteArrayAsync("/trust/zoltric-workshop.crt", stop));
        using var trusting = new HttpClient(
            new SocketsHttpHandler
            {
                AllowAutoRedirect = false,
                SslOptions = new()
                {
                    CertificateChainPolicy = new X509ChainPolicy
                    {
                        TrustMode = X509ChainTrustMode.CustomRootTrust,
                        CustomTrustStore = { root },
                        RevocationMode = X509RevocationMode.NoCheck,
                    },
                },
            }
        );
        using var paired = await trusting.GetAsync($"https://127.0.0.1:{server.SecurePort}/", stop);
        paired.Headers.Location!.ToString().ShouldBe("/people/pair");
        using var none = await trusting.GetAsync($"https://127.0.0.1:{server.SecurePort}/no-network", stop);
        ((int)none.StatusCode).ShouldBe(200);
    }

    /// <summary>At a host name, since browsers take localhost for trusted whatever it shows.</summary>
    [Fact]
    public async Task A_phone_that_trusts_it_opens_the_job_again_without_network_and_sends_what_waited()
    {
        using var server = ServerProcess.Secure();
        var stop = TestContext.Current.CancellationToken;
        var certificate = X509CertificateLoader.LoadCertificate(await server.Client.GetByteArrayAsync("/trust/zoltric-workshop.crt", stop));
        (await server.Client.GetStringAsync("/trust", stop)).ShouldContain(certificate.GetCertHashString(HashAlgorithmName.SHA256)[..4]);
        // What a person does once in the phone's settings.
        using var b = new Browser(390, 844, false, certificate.RawData, "--host-resolver-rules=MAP van-laptop.local 127.0.0.1");
        var home = $"https://van-laptop.local:{server.SecurePort}";
        b.Driver.Navigate().GoToUrl(home);
        b.As("Tamsin Reke");
        b.Until(() => b.Driver.ExecuteScript("return Boolean(navigator.serviceWorker.controller)") is true, "the phone keeps nothing");
        b.Driver.Navigate().GoToUrl($"{home}/jobs/2/trace");
        Technician.MakeSafe(b);
        b.Until(() => b.Has("body[data-ahead]"), "the next orders are not fetched");
        // As it stands now, it is kept.
        b.Driver.Navigate().Refresh();
        b.Until(() => b.Has("body[data-ahead]"), "the next orders are not fetched");
        var order = b.Says("#order", "data-line");
        server.Kill();
        b.Driver.Navigate().Refresh();
        b.Says("#waiting").ShouldContain("this page is as it was opened");
        b.Find("#safety-state").Displayed.ShouldBeFalse("the state of locks is that of another time");
        b.Says("#order", "data-line").ShouldBe(order);
        b.Click("[data-answer='1']");
        b.Until(() => b.Says("#waiting", "data-count") == "1" && b.Says("#order", "data-line") != order, "it does not go on");
        var next = b.Says("#order", "data-line");
        // Closed and opened again, it stands where it was.
        b.Driver.Navigate().GoToUrl("about:blank");
        b.Driver.Navigate().GoToUrl($"{home}/jobs/2/trace");
        b.Until(() => b.Has("#order") && b.Says("#order", "data-line") == next, "it begins again at the order before");
        b.Driver.Navigate().GoToUrl($"{home}/jobs/2/safe");
        b.Says("h1").ShouldBe("There is no network here");
        b.Until(() => b.All("#kept-pages a").Any(a => a.Text == "Job 2, trace"), "what is kept is not offered");
        server.Start();
        b.Driver.Navigate().GoToUrl($"{home}/jobs/2/trace");
        b.Until(() => b.Says("#waiting", "data-count") == "0" && b.Says(".receipt .kicker") == "Kept", "what waited is not sent");
    }
}
