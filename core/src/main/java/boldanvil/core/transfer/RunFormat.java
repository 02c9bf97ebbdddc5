package boldanvil.core.transfer;

import boldanvil.core.samples.Samples;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** A kind of file in which samples are given to other tools. */
public interface RunFormat {
    /** The name people read, such as {@code CSV}. */
    String name();

    /** Endings of file names, with their dot; the first one is offered. */
    List<String> endings();

    /** Writes samples; what was there before is replaced only when all is written. */
    void write(Samples samples, Path file) throws IOException;
}
