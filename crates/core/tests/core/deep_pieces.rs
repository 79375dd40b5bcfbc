//! Deep inside coarse shapes whose few facets are divided into many pieces: the nearest surface is found by piece, and by the face
//! that a square has its foot on.

use crate::deep_inside::assert_same_as_everywhere;
use crate::judge::cases;
use crate::painting::{after, band, patch, stroke};
use proptest::prelude::*;
use varichrom_core::carve::Pieces;
use varichrom_core::job::{Edit, GiveEdit};
use varichrom_core::regions::Reach;
use varichrom_demo::{box_mesh, stl};

proptest! {
    #![proptest_config(cases(10))]

    /// Stripes around the walls, grown or not, and a dab on the lid, so that planes of two colours meet at all angles.
    #[test]
    fn many_pieces_on_few_facets_share_out_the_same(
        size in prop::array::uniform3(6.0..12.0f64),
        stripes in prop::collection::vec((0.1..0.7f64, 0.05..0.3f64), 1..3),
        dab in prop::array::uniform2(0.2..0.8f64),
        radius_mm in 0.5..2.0f64,
        by_mm in 0.06..0.4f64,
    ) {
        let bytes = stl(&box_mesh([0.0; 3], size), "box");
        let at = [dab[0] * size[0], dab[1] * size[1], size[2]];
        let mut edits: Vec<Edit> = stripes
            .iter()
            .map(|(low, high)| band(low * size[2], (low + high) * size[2]))
            .collect();
        edits.push(Edit::Give(GiveEdit::GrowRegion { region: "red".into(), by_mm }));
        edits.push(patch("blue", [0.5 * size[0], 0.5 * size[1], size[2]], [0.0, 0.0, 1.0], 30.0));
        edits.push(stroke(Reach::Dab, &[at], radius_mm, [at[0], at[1], 300.0]));
        let history = after(&bytes, &edits);
        let model = &history.job().models[0];
        let pieces = Pieces::of(&model.open, &model.labels);
        let count = (0..pieces.end()).filter(|p| pieces.is_piece(*p)).count();
        prop_assert!(count > 60, "{count} pieces");
        assert_same_as_everywhere(&model.open.mesh, &model.labels, 0.4, 3);
    }
}
