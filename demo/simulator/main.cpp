// fulvex-simulator: an instrument that is none, to try live acquisition with. See docs/live.md.

#include "scpi_server.h"

#include <CLI/CLI.hpp>
#include <cstdio>

int main(int argc, char **argv)
{
    using namespace fulvex::demo;
    CLI::App app{"A simulated instrument: the Brackwater camera link over SCPI.", "fulvex-simulator"};
    SimulatorOptions options;
    std::string address = "127.0.0.1";
    std::uint16_t port = 5025;
    app.add_option("--address", address, "IPv4 address that it listens at (127.0.0.1: nobody outside can reach it)")
        ->type_name("IPV4");
    app.add_option("--port", port, "TCP port (5025); 0: any that is free")->type_name("PORT");
    app.add_option("--samples", options.samples, "of each leg and capture (1000000)")
        ->type_name("COUNT")
        ->check(CLI::Range(1000, 100000000));
    app.add_option("--seed", options.seed, "of noise and jitter (1)")->type_name("NUMBER");
    app.add_option("--per-second", options.mostPerSecond, "captures, at most (25)")
        ->type_name("RATE")
        ->check(CLI::Range(0.001, 1e6));
    app.add_option("--sweep", options.sweep, "captures over which jitter and noise grow, until the eye is closed")
        ->type_name("CAPTURES");
    app.add_option("--fault-every", options.faultEvery, "so many captures a fault of the line, all kinds in turn")
        ->type_name("CAPTURES");
    CLI11_PARSE(app, argc, argv);
    try {
        ScpiInstrument instrument(options);
        ScpiServer server(address, port, instrument);
        std::printf("listening at %s:%u\n", address.c_str(), unsigned(server.port()));
        std::fflush(stdout);
        server.serve();
        return 0;
    } catch (const std::exception &failure) {
        std::fprintf(stderr, "%s\n", failure.what());
        return 2;
    }
}
