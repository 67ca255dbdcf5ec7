/**
 * Chorales and hymns in four voices, and pieces for two hands, after well-known models and in part from memory: test data for
 * hands, voices and staves. Each voice is a string of ABC, the uppermost first.
 */
import type { Tune } from './melodies.js';

/** A piece with its voices: so many of them on the upper staff, the others on the lower. */
export interface RememberedPiece {
  readonly tune: Tune;
  readonly kind: 'fourVoices' | 'twoHands';
  readonly upper: number;
}

const four = (...tune: Tune): RememberedPiece => ({ tune, kind: 'fourVoices', upper: 2 });
const hands = (upper: number, ...tune: Tune): RememberedPiece => ({ tune, kind: 'twoHands', upper });

export const PIECES: readonly RememberedPiece[] = [
  four(
    'Old Hundredth, four voices',
    'G',
    '4/4',
    '1/4',
    'G | G F E D | G A B B | B B A G | c B A G | A B A G | E F G d | B G A c | B A G',
    'D | D D B, B, | E E/F/ G G | G G F E | E G/F/ E/F/ G | F G F D | C D/C/ B, D | D E E E | G F D',
    'B, | B, A, G, F, | B, C D D | D D/C/ D B, | A, D C/D/ E | D D C/A,/ B, | G, A, D A, | G, B, C A, | D D/C/ B,',
    'G, | G, D, E, B,, | E, C, G,, G, | G, B, D E | A,, B,, C, C, | D, G, D, G,, | C, C, B,, F,, | G,, E, A,, A,, | D, D, G,',
  ),
  four(
    'Chorale in A minor',
    'Am',
    '4/4',
    '1/4',
    'A | A B c B | A ^G A E | A B c d | e3 e | d c B c | A B c G | F E D/E/ F | E D E2 | A B c A | d c B e | c B A2 | A3',
    'E | E D E E | E/D/ E E C | E ^G A A | ^G3 A | A A ^G A | E E/F/ G E | D C B,/C/ D | C =B, C2 | E E E F | F E/F/ ^G A | E/F/ ^G E2 | E3',
    'C | C ^G, A, B, | C B, C A, | C E E/F/ F/E/ | E3 C | D E E E | C ^G, C C | A, G, F,/G,/ A, | G, G, G,2 | C B, A, C | A, A, D ^C | A, E/D/ C2 | C3',
    'A,, | A,, E, A, ^G, | A, E, A,, A, | A, E, A, F, | E,3 A, | F, C/D/ E A, | A, E, E, C, | D, E,/F,/ G, D, | E,/F,/ G, C,2 | A, ^G, A, F, | D,/E,/ F, E, A,, | E, E, A,2 | A,,3',
  ),
  four(
    'Evening Hymn',
    'F',
    '3/4',
    '1/4',
    'F G A | B A G | A B c | c2 c | d c B | A2 G | F G/F/ E | F2 z | c d e | f e d | c B A | G2 c | A G F | E F G | F2 E | F3',
    'C C F | F F E | F F G | A2 A | F F/E/ D/E/ | F2 E | D D C | C2 z | F F/G/ A/G/ | A G F | F/E/ D/E/ F | E2 E | F E D | C C C | C2 C | C3',
    'A, B, C | D C C | C D C/B,/ | F2 F | B, A,/C/ F | C2 C | A, B, G, | A,2 z | A,/B,/ C C | C C B, | A,/G,/ F,/G,/ C | C2 G, | C C A, | G, A, B, | A,2 G, | A,3',
    'F, E, F, | B,, F, C | F, B,, E, | F,2 F, | B,, C, D, | F,2 C, | D, B,, C, | F,2 z | F, B, A,/E,/ | D,/E,/ C, D, | A,, B,, F, | C,2 C, | F, C, D, | C, A,, E, | F,2 C, | F,,3',
  ),
  four(
    'Motet with a held tenor',
    'D',
    '4/4',
    '1/2',
    'A2 | B A | G F | E2 | F G | A B | c d | c2 | d A | B/c/ d | A G | F2 | E F | G E | F E | D2',
    'F2 | G F | E D | C2 | D E | F F | G F | E2 | F F | G F | F/E/ E | D2 | C D | D/E/ C | D C | A,2',
    'D2- | D2- | D A, | A,2- | A, B, | D2- | D A,/B,/ | A,2 | A, D- | D D/C/ | D B, | A,2- | A, A, | B,2 | A, A,/G,/ | F,2',
    'D,2 | G, D, | A,, B,, | A,,2 | D, E, | D, B,, | E, D, | A,,2 | D, D, | G, B, | A, E, | D,2 | A, D, | G,, A,, | F,/G,/ A, | D,2',
  ),
  four(
    'St Anne, four voices',
    'C',
    '4/4',
    '1/4',
    'G | E A G c | c B c G | c G A ^F | G3 B | c A d B | c A B E | A G F D | C3',
    'E | C F D E | A/G/ F E E | E E E D | D3 G | G F F F | E E E C | F/E/ D/E/ C B, | G,3',
    'C | G, C B, G, | F D C C | C B, C A, | B,3 D | C C B, D | C C ^G, A, | A, B, A, G,/F,/ | E,3',
    'C, | C F, G, E, | F, G, C, C, | A, E, C, D, | G,3 G, | E, F, D, G, | A,/G,/ A, E, A, | D, G, A, G, | C,3',
  ),
  four(
    'Lament, four voices',
    'Gm',
    '3/4',
    '1/4',
    'd2 c | B2 A | G A B | A2 d | e2 d | c B A | B2 A/G/ | ^F2 z | G A B | c2 d | e d c | B2 A | G2 ^F | G3',
    'G ^F2 | G2 ^F | D D/E/ G | ^F2 F | G2 F | E D ^F | G2 C | D2 z | D D D | E/F/ G F | G F E | D2 D | D C/D/ D | D3',
    'B,2 A, | D2 C/D/ | B, A, G, | D2 A, | B, C D | G, G, D | D2 E | A,2 z | B, A, G, | G,/A,/ B, B, | B, B, G,/A,/ | B,2 ^F, | G, E, A, | B,3',
    'G, A,/B,/ C | G,2 D, | G, F, E, | D,2 D, | C, C, B,, | C, G, D, | G,,2 C, | D,2 z | G, ^F, G, | C,/D,/ E, B,, | E,/F,/ G, A,/^F,/ | G,2 D, | B,, C, D, | G,,3',
  ),
  hands(
    1,
    'Minuet in G, two hands',
    'G',
    '3/4',
    '1/8',
    'd2 GABc | d2 G2 G2 | e2 cdef | g2 G2 G2 | c2 dcBA | B2 cBAG | F2 GABG | B2 A4 | d2 GABc | d2 G2 G2 | e2 cdef | g2 G2 G2 | c2 dcBA | B2 cBAG | A2 BAGF | G6',
    '[G,B,D]4 A,2 | B,6 | C6 | B,6 | A,6 | G,6 | D2 B,2 G,2 | D2 D,CB,A, | B,4 A,2 | G,2 B,2 G,2 | C6 | B,2 CB,A,G, | A,4 F,2 | G,4 B,2 | C2 D2 D,2 | G,4 z2',
  ),
  hands(
    1,
    'Sonata in C, beginning',
    'C',
    '4/4',
    '1/8',
    'c4 e2 g2 | B3c/d/ c2 z2 | a4 g2 e2 | g2 fg e2 z2 | ABcd efga | GABc defg | FGAB cdef | EFGA Bcde | DEFG ABcd | c4 G4 | c8',
    'CGEG CGEG | DGFG CGEG | CAFA CGEG | B,GDG CGEG | F,2 z2 z4 | E,2 z2 z4 | D,2 z2 z4 | C,2 z2 z4 | F,2 z2 G,2 z2 | C2 G,2 E,2 G,2 | C,8',
  ),
  hands(
    1,
    'Prelude in broken chords',
    'C',
    '4/4',
    '1/16',
    'z2Gce Gce z2 Gce Gce | z2Adf Adf z2Adf Adf | z2Gdf Gdf z2Gdf Gdf | z2Gce Gce z2Gce Gce | z2Aea Aea z2Aea Aea | z2^FAd FAd z2FAd FAd | z2Gdg Gdg z2Gdg Gdg | z2EGc EGc z2EGc EGc | z8 c8',
    'zE7 zE7 | zD7 zD7 | zD7 zD7 | zE7 zE7 | zE7 zE7 | zD7 zD7 | zD7 zD7 | zC7 zC7 | z16',
    'C8 C8 | C8 C8 | B,8 B,8 | C8 C8 | C8 C8 | C8 C8 | B,8 B,8 | B,8 B,8 | C,16',
  ),
  hands(
    2,
    'Song without words',
    'F',
    '4/4',
    '1/8',
    'c4 A2 c2 | d4 c4 | B2 A2 G2 A2 | A4 G4 | c4 A2 c2 | f4 d4 | c2 B2 A2 G2 | F8',
    'zFAF zFEF | zFBF zFAF | zDzF zEzF | zFzF zEzE | zFAF zFEF | zFAF zFBF | zFzF zFzE | zCDC A,4',
    'F,4 A,4 | B,4 F,4 | G,4 C4 | F,4 C4 | F,4 A,4 | D4 B,4 | C4 C,4 | F,8',
  ),
  hands(
    1,
    'Waltz in A minor',
    'Am',
    '3/4',
    '1/4',
    'e2 d/c/ | B2 A | A ^G A | c3 | d2 c/B/ | A2 G | F E D | E3 | e2 d/c/ | B2 A | A ^G A | f3 | e d c | B A ^G | A3 | A2 z',
    'A,, [CE] [CE] | E,, [^G,D] [G,D] | A,, [CE] [CE] | A,, [CE] [CE] | D, [F,A,] [F,A,] | C, [E,G,] [E,G,] | D, [F,A,] [F,A,] | E, [^G,B,] [G,B,] | A,, [CE] [CE] | E,, [^G,D] [G,D] | A,, [CE] [CE] | D, [A,D] [A,D] | A,, [CE] [CE] | E, [^G,D] [G,D] | A,, [CE] [CE] | [A,,A,]2 z',
  ),
  hands(
    1,
    'Two-part invention',
    'Dm',
    '3/8',
    '1/16',
    'DEFGAB | ^CBAGFE | F2A2d2 | G2^c2e2 | defgab | ^cbagfe | f2 d2 A2 | d6 | z6 | e2 a2 ^c2 | d2 f2 A2 | B2 e2 G2 | AGFEDC | B,2 D2 G2 | F2 E4 | D6',
    'z6 | z6 | D,E,F,G,A,B, | ^C,B,A,G,F,E, | F,2A,2D2 | G,2^C2E2 | D,E,F,G,A,B, | F,E,D,^C,D,E, | A,B,CDEF | G2 ^C2 A,2 | D2 A,2 F,2 | G,2 B,2 E,2 | F,2 A,2 D,2 | G,F,E,D,C,B,, | A,,2 A,4 | D,6',
  ),
  hands(
    1,
    'March for two hands',
    'Bb',
    '4/4',
    '1/4',
    'F3/4F/4 | B B d B | f2 d c/B/ | c c e c | F3 F3/4F/4 | B B d B | f2 g f/e/ | d B c A | B3',
    'z | B,, [F,B,D] B,, [F,B,D] | B,, [F,B,D] F, [F,B,D] | F, [A,CE] C, [A,CE] | F, A, C z | B,, [F,B,D] B,, [F,B,D] | D, [F,B,D] E, [G,B,E] | F, [F,B,D] F, [A,CE] | [B,,B,] F, B,,',
  ),
];

/** More pieces for two hands: the hands were tuned on none of them. */
export const OTHER_PIECES: readonly RememberedPiece[] = [
  hands(
    1,
    'Sonatina in C, beginning',
    'C',
    '4/4',
    '1/8',
    "c2 ec G2 G2 | c2 ec g4 | fedc BcBc | dcBA G2 z2 | c2 ec G2 G2 | c2 ec g4 | abc'b agfe | f2 d2 c2 z2",
    'C4 E4 | C4 E,4 | F,2 A,2 G,2 E,2 | F,2 ^F,2 G,2 z2 | C4 E4 | C4 E,4 | F,4 C4 | G,2 G,,2 C,2 z2',
  ),
  hands(
    1,
    'Melody for the young',
    'C',
    '4/4',
    '1/8',
    'e4 d2 c2 | A4 G4 | f4 e2 d2 | c4 B4 | e4 d2 c2 | A4 G2 E2 | F2 A2 G2 B2 | c8',
    'CGEG B,GCG | CFCF CECE | DGDG CGDG | EGCG DGFG | CGEG B,GCG | CFCF CECE | DADA G,FG,F | CGEG C4',
  ),
  hands(
    1,
    'Ecossaise in G',
    'G',
    '2/4',
    '1/8',
    '[Bd]2 [Bd][Ac] | [GB]2 g2 | f/e/d/c/ BA | G2 z2 | [ce]2 [ce][Bd] | [Ac]2 a2 | g/f/e/d/ cA | G2 z2',
    'G,[B,D] G,[B,D] | G,[B,D] G,[B,D] | D,[A,C] D,[A,C] | G,B, G,2 | C[EG] C[EG] | A,[CE] A,[CE] | D[FA] D,[FA] | G,D G,,2',
  ),
  hands(
    1,
    'Prelude in A',
    'A',
    '3/4',
    '1/8',
    'e2 | [Ac]3/2[Bd]/2 [EGB]2 [EGB]2 | [EGB]4 f2 | [^Bd]3/2[ce]/2 [EAc]2 [EAc]2 | [EAc]4 c2 | [Be]3/2[cf]/2 [GBd]2 [GBd]2 | [GBd]4 b2 | [db]3/2[ca]/2 [EAc]2 [EAc]2 | [EAc]4',
    'z2 | E,,2 [E,B,D]2 [E,B,D]2 | [E,B,D]4 z2 | A,,2 [E,A,C]2 [E,A,C]2 | [E,A,C]4 z2 | E,,2 [E,B,D]2 [E,B,D]2 | [E,B,D]4 z2 | A,,2 [E,A,C]2 [E,A,C]2 | [E,A,C]4',
  ),
  hands(
    1,
    'Für Elise, both hands',
    'Am',
    '3/8',
    '1/16',
    'e^d | e^deB=dc | A2zCEA | B2zE^GB | c2zEe^d | e^deB=dc | A2zCEA | B2zEcB | A2zBcd | e3Gfe | d3Fed | c3Edc | B2zEe2 | e^deB=dc | A2zCEA | B2zEcB | A4',
    'z2 | z6 | A,,E,A,z3 | E,,E,^G,z3 | A,,E,A,z3 | z6 | A,,E,A,z3 | E,,E,^G,z3 | A,,E,A,z3 | C,G,Cz3 | G,,G,B,z3 | A,,E,A,z3 | E,,E,Ez3 | z6 | A,,E,A,z3 | E,,E,^G,z3 | A,,E,A,z',
  ),
  hands(
    1,
    'Theme for variations',
    'C',
    '2/4',
    '1/4',
    'c c | g g | a a | g2 | f f | e e | d d/e/ | c2 | g g | f f | e e | d2 | g g | f f | e e/f/ | d2 | c c | g g | a a | g2 | f f | e e | d d/e/ | c2',
    'C, C | E C | F C | E C | D B, | C A, | F, G, | C, z | E C | D B, | C A, | B, G, | E C | D B, | C A, | B, G, | C, C | E C | F C | E C | D B, | C A, | F, G, | C, z',
  ),
  hands(
    1,
    'Musette in D',
    'D',
    '2/4',
    '1/8',
    'ag/f/ ed | ag/f/ ed | e/f/g/e/ f/g/a/f/ | e2 e2 | ag/f/ ed | ag/f/ ed | e/f/g/e/ f/e/d/c/ | d2 d2 | Ae cA | ^ge cA | a/g/f/e/ ^d/e/f/d/ | e2 e2',
    'D,D D,D | D,D D,D | D,D D,D | A,,A, A,,A, | D,D D,D | D,D D,D | A,,A, A,,A, | D,D D,D | A,,A, A,,A, | E,,E, A,,A, | A,,A, B,,B, | E,,E, E,,E,',
  ),
];
