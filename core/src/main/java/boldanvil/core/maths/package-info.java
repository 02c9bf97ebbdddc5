/**
 * Elementary functions as IR, so that they give the same bits as Java and as C.
 */
package boldanvil.core.maths;
