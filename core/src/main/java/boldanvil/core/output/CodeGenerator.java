package boldanvil.core.output;

import boldanvil.core.program.Program;
import java.util.List;

/** Writes programs in one language. */
public interface CodeGenerator {
    /** The language, as people read it. */
    String language();

    /** The files of a program; equal programs give equal files. */
    List<GeneratedFile> generate(Program program);
}
