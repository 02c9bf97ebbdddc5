package boldanvil.standin;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;

/**
 * Entry of the bench process. It reads a token from its standard input, prints {@code READY port} and serves until its
 * standard input ends, that is until the process that started it is gone.
 */
public final class BenchMain {
    private BenchMain() {}

    public static void main(String[] args) throws IOException {
        var in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        String token = in.readLine();
        if (token == null || token.isBlank()) {
            System.err.println("The bench process wants a token on its standard input.");
            System.exit(2);
        }
        try (var server = new ControlServer(token.strip())) {
            System.out.println("READY " + server.port());
            System.out.flush();
            while (in.readLine() != null) {
                // Nothing else is said on this way; its end is what counts.
            }
        }
        System.exit(0);
    }
}
