package boldanvil.additions;

import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunFormat;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** A file with the number of signals of a run. */
public final class CountFormat implements RunFormat {
    @Override
    public String name() {
        return "Count";
    }

    @Override
    public List<String> endings() {
        return List.of(".count");
    }

    @Override
    public void write(Samples samples, Path file) throws IOException {
        Files.writeString(file, Integer.toString(samples.columns().size()));
    }
}
