//! Pictures of jobs: what is seen of a box by its faces and areas, and nothing of what is not printed.

use crate::jobs_of::at;
use crate::right_through::job;
use image::RgbaImage;
use varichrom_core::handover::job_picture;
use varichrom_core::job::{Edit, PartEdit};
use varichrom_core::mesh::Mesh;
use varichrom_demo::{box_mesh, subdivided_sphere, together};

fn picture(edits: &[Edit], size: [u32; 2], is_box: bool) -> RgbaImage {
    let mesh = match is_box {
        true => box_mesh([0.0; 3], [20.0, 20.0, 10.0]),
        false => subdivided_sphere(10.0, 5),
    };
    let history = job(&mesh, edits);
    let bytes = job_picture(history.job(), size).expect("something to see");
    assert_eq!(bytes, job_picture(history.job(), size).expect("again"));
    let read = image::load_from_memory(&bytes).expect("a PNG").to_rgba8();
    assert_eq!([read.width(), read.height()], size);
    read
}

#[test]
fn what_is_not_printed_takes_no_room() {
    let near = box_mesh([0.0; 3], [20.0, 20.0, 10.0]);
    let far = box_mesh([300.0, 0.0, 0.0], [320.0, 20.0, 10.0]);
    let at = |x: f64| at("it", [x, 10.0, 10.0], [0.0, 0.0, 1.0]);
    let left_out = Edit::Part(PartEdit::Print {
        at: at(310.0),
        is_printed: false,
    });
    let of = |mesh: &Mesh, edits: &[Edit]| job_picture(job(mesh, edits).job(), [80, 60]);
    let alone = of(&near, &[]).expect("something to see");
    assert_eq!(
        of(&together(&[near, far]), &[left_out]).expect("the same"),
        alone
    );
}

/// Share of the picture that is covered.
fn covered(picture: &RgbaImage) -> f64 {
    let alpha: u64 = picture.pixels().map(|p| u64::from(p.0[3])).sum();
    alpha as f64 / 255.0 / f64::from(picture.width() * picture.height())
}

#[test]
fn a_ball_is_a_disc_in_the_middle() {
    let read = picture(&[], [120, 90], false);
    // It fits the height with 4 % left free on both sides.
    let radius = 0.5 * 90.0 * 0.92;
    let due = std::f64::consts::PI * radius * radius / (120.0 * 90.0);
    assert!(
        (covered(&read) - due).abs() < 0.01,
        "{} {due}",
        covered(&read)
    );
    assert_eq!(read.get_pixel(0, 0).0[3], 0);
    assert_eq!(read.get_pixel(60, 45).0[3], 255);
    // Lit from above.
    let [top, bottom] = [12, 78].map(|y| read.get_pixel(60, y).0[0]);
    assert!(top > bottom, "{top} {bottom}");
}

#[test]
fn of_a_box_three_faces_are_seen_each_in_its_light() {
    let read = picture(&[], [160, 160], true);
    let mut colours: Vec<[u8; 3]> = (read.pixels())
        .filter(|p| p.0[3] == 255)
        .map(|p| [p.0[0], p.0[1], p.0[2]])
        .collect();
    let all = colours.len();
    colours.sort_unstable();
    // Whole faces; samples on edges mix a few more.
    let faces = colours
        .chunk_by(|a, b| a == b)
        .filter(|c| c.len() > all / 20);
    assert_eq!(faces.count(), 3);
}
