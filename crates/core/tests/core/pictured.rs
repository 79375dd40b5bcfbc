//! Pictures that files lay over their surface: areas by counted pixels, in every format that can say it.

use crate::carving::assert_same_shape;
use crate::jobs_of::job_of;
use crate::laid_jobs::near;
use image::{ImageFormat, Rgb, RgbImage};
use rstest::rstest;
use std::io::Cursor;
use varichrom_core::formats::{bundle, zip_files};
use varichrom_core::job::{Edit, History, ModelEdit};
use varichrom_core::model::{Mending, OpenMesh};

const RED: [u8; 3] = [200, 30, 20];
const BLUE: [u8; 3] = [20, 40, 180];

/// A picture as PNG, its pixels by column and row from the top.
fn png(w: u32, h: u32, colour: impl Fn(u32, u32) -> [u8; 3]) -> Vec<u8> {
    let picture = RgbImage::from_fn(w, h, |x, y| Rgb(colour(x, y)));
    let mut out = Cursor::new(Vec::new());
    picture
        .write_to(&mut out, ImageFormat::Png)
        .expect("written");
    out.into_inner()
}

/// Red on the left 40 of 100 columns, blue on the others; a red spot of radius 10 around (70, 25) from the top left.
fn flag() -> Vec<u8> {
    png(100, 50, |x, y| match is_red(x, y) {
        true => RED,
        false => BLUE,
    })
}

fn is_red(x: u32, y: u32) -> bool {
    x < 40 || (f64::from(x) + 0.5 - 70.0).hypot(f64::from(y) + 0.5 - 25.0) < 10.0
}

/// The red share of the flag, pixels counted.
fn red_share() -> f64 {
    let all = (0..100).flat_map(|x| (0..50).map(move |y| (x, y)));
    all.filter(|(x, y)| is_red(*x, *y)).count() as f64 / 5000.0
}

const MTL: &str = "newmtl cloth\nKd 0.8 0.8 0.8\nmap_Kd -s 1 1 1 -o 0 0 0 flag.png\n";

/// A plate of 40 by 20 by 2 mm whose top is under the flag; `u`: how far the flag goes to the right.
fn obj(u: [f64; 2]) -> String {
    let [l, r] = u;
    format!(
        "mtllib it.mtl\nv 0 0 0\nv 40 0 0\nv 40 20 0\nv 0 20 0\nv 0 0 2\nv 40 0 2\nv 40 20 2\nv 0 20 2\n\
         vt {l} 0\nvt {r} 0\nvt {r} 1\nvt {l} 1\n\
         f 1 3 2\nf 1 4 3\nf 1 2 6\nf 1 6 5\nf 2 3 7\nf 2 7 6\nf 3 4 8\nf 3 8 7\nf 4 1 5\nf 4 5 8\n\
         usemtl cloth\nf 5/1 6/2 7/3 8/4\n"
    )
}

fn obj_with(u: [f64; 2], picture: Option<Vec<u8>>) -> Vec<u8> {
    let mut beside = vec![("it.mtl".to_string(), MTL.as_bytes().to_vec())];
    beside.extend(picture.map(|p| ("flag.png".to_string(), p)));
    bundle(("it.obj", obj(u).into_bytes()), &beside).expect("bundled")
}

fn ply_with(by_vertex: bool) -> Vec<u8> {
    let (vertex, face) = match by_vertex {
        true => ("property float s\nproperty float t\n", ""),
        false => (
            "",
            "property list uchar float texcoord\nproperty int texnumber\n",
        ),
    };
    let places = ["0 0", "1 0", "1 1", "0 1"];
    let mut text = format!(
        "ply\nformat ascii 1.0\ncomment TextureFile flag.png\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n\
         {vertex}element face 1\nproperty list uchar int vertex_indices\n{face}end_header\n"
    );
    for (at, place) in ["0 0 0", "40 0 0", "40 20 0", "0 20 0"].iter().zip(places) {
        text += &match by_vertex {
            true => format!("{at} {place}\n"),
            false => format!("{at}\n"),
        };
    }
    text += "4 0 1 2 3";
    text += &match by_vertex {
        true => "\n".to_string(),
        false => format!(" 8 {} 0\n", places.join(" ")),
    };
    let beside = [("flag.png".to_string(), flag())];
    bundle(("it.ply", text.into_bytes()), &beside).expect("bundled")
}

fn threemf() -> Vec<u8> {
    let model = r#"<?xml version="1.0"?>
<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
 xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02"><resources>
<m:texture2d id="1" path="/3D/Textures/flag.png" contenttype="image/png"/>
<m:texture2dgroup id="2" texid="1"><m:tex2coord u="0" v="0"/><m:tex2coord u="1" v="0"/><m:tex2coord u="1" v="1"/><m:tex2coord u="0" v="1"/></m:texture2dgroup>
<object id="3" type="model"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="40" y="0" z="0"/><vertex x="40" y="20" z="0"/><vertex x="0" y="20" z="0"/></vertices>
<triangles><triangle v1="0" v2="1" v3="2" pid="2" p1="0" p2="1" p3="2"/><triangle v1="0" v2="2" v3="3" pid="2" p1="0" p2="2" p3="3"/></triangles></mesh></object>
</resources><build><item objectid="3"/></build></model>"#;
    let relations = r#"<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
<Relationship Target="/3D/3dmodel.model" Id="a" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#;
    zip_files(&[
        ("_rels/.rels".into(), relations.as_bytes().to_vec()),
        ("3D/3dmodel.model".into(), model.as_bytes().to_vec()),
        ("3D/Textures/flag.png".into(), flag()),
    ])
    .expect("packed")
}

fn kept(file: &[u8], most: u8) -> History {
    let (shelf, mut history) = job_of(&[("it", file)]);
    let keep = Edit::Model(ModelEdit::KeepColours {
        model: "it".into(),
        most,
    });
    history
        .apply(keep, &shelf)
        .unwrap_or_else(|p| panic!("{p}"));
    history
}

/// Area of the reddest region, mm².
fn red(history: &History) -> f64 {
    let job = history.job();
    let areas = job.region_areas();
    let redness = |c: [u8; 3]| i32::from(c[0]) - i32::from(c[2]);
    let reddest = job.live_regions().max_by_key(|(_, r)| redness(r.colour.0));
    let (number, region) = reddest.expect("regions");
    assert_eq!(region.colour.0, RED);
    areas[usize::from(number)]
}

#[rstest]
#[case::obj(obj_with([0.0, 1.0], Some(flag())))]
#[case::ply_by_face(ply_with(false))]
#[case::ply_by_vertex(ply_with(true))]
#[case::threemf(threemf())]
fn a_picture_on_a_surface_becomes_regions_of_its_areas(#[case] file: Vec<u8>) {
    let history = kept(&file, 2);
    assert_same_shape(&history);
    near(red(&history), red_share() * 800.0, 3e-3);
}

#[rstest]
#[case::twice([0.0, 2.0])]
#[case::shifted([-3.0, -1.0])]
#[case::mirrored([2.0, 0.0])]
fn a_picture_comes_again_beyond_its_edges(#[case] u: [f64; 2]) {
    let history = kept(&obj_with(u, Some(flag())), 2);
    assert_same_shape(&history);
    near(red(&history), red_share() * 800.0, 3e-3);
}

#[rstest]
fn borders_on_a_surface_run_where_the_picture_has_them() {
    let history = kept(&obj_with([0.0, 1.0], Some(flag())), 2);
    let model = &history.job().models[0];
    let fine = varichrom_core::carve::refined(&model.open, &model.labels);
    let red_colour = |f: usize| {
        let own = model.parts[0].own;
        let number = fine.labels[f].unwrap_or(own);
        history.job().regions[usize::from(number)].colour.0 == RED
    };
    for f in 0..fine.labels.len() {
        let corners = fine.mesh.corners(f as u32);
        if corners.iter().any(|p| p[2] < 2.0 - 1e-9) {
            continue;
        }
        // A column is 0.4 mm.
        let left = corners.iter().all(|p| p[0] < 16.0 + 1e-3);
        let spot = |p: &[f64; 3]| (p[0] - 28.0).hypot(p[1] - 10.0);
        let in_spot = corners.iter().all(|p| spot(p) < 4.0 + 0.3);
        let clear = corners.iter().all(|p| spot(p) > 4.0 - 0.3);
        match red_colour(f) {
            true => assert!(left || in_spot, "{corners:?} is red"),
            false => assert!(!left && clear, "{corners:?} is not"),
        }
    }
}

#[rstest]
#[case::missing(None, "it was not there")]
#[case::no_picture(Some(b"no picture".to_vec()), "no PNG")]
#[case::broken(Some(flag()[..200].to_vec()), "cannot be read")]
#[case::a_line(Some(png(9, 1, |_, _| RED)), "9 × 1")]
fn a_picture_that_cannot_be_used_is_told_and_the_model_opens(
    #[case] picture: Option<Vec<u8>>,
    #[case] why: &str,
) {
    let open = OpenMesh::from_bytes(&obj_with([0.0, 1.0], picture)).expect("open");
    assert!(open.is_closed());
    let told = &open.origin.left_out;
    assert!(
        told.iter()
            .any(|t| t.contains("flag.png") && t.contains(why)),
        "{told:?}"
    );
    // The material's plain colour stays.
    let colours = open.origin.colours.as_ref().expect("a colour");
    assert!(colours.pictured.is_empty());
    assert_eq!(colours.palette[colours.facets[10] as usize].name, "cloth");
}

#[rstest]
fn a_picture_turns_over_with_its_facets() {
    // The same plate inside out: turned outward by mending, the picture keeps its place.
    let inside_out: String = obj([0.0, 1.0])
        .lines()
        .map(|line| match line.strip_prefix("f ") {
            Some(corners) => {
                let turned: Vec<&str> = corners.split(' ').rev().collect();
                format!("f {}\n", turned.join(" "))
            }
            None => format!("{line}\n"),
        })
        .collect();
    let beside = [
        ("it.mtl".to_string(), MTL.as_bytes().to_vec()),
        ("flag.png".to_string(), flag()),
    ];
    let file = bundle(("it.obj", inside_out.into_bytes()), &beside).expect("bundled");
    let (shelf, mut history) = job_of(&[("it", &file)]);
    let mend = ModelEdit::Mend {
        model: "it".into(),
        mending: Mending {
            turn: true,
            ..Mending::default()
        },
    };
    let keep = ModelEdit::KeepColours {
        model: "it".into(),
        most: 2,
    };
    for edit in [mend, keep] {
        history
            .apply(Edit::Model(edit), &shelf)
            .unwrap_or_else(|p| panic!("{p}"));
    }
    assert!(history.job().models[0].open.volume_mm3() > 0.0);
    near(red(&history), red_share() * 800.0, 3e-3);
    let model = &history.job().models[0];
    // Left is red still.
    let colour_at = |x: f64| {
        let hits = model.open.tree().hits([x, 19.0, 50.0], [0.0, 0.0, -1.0]);
        let (_, facet) = hits
            .into_iter()
            .min_by(|a, b| a.0.total_cmp(&b.0))
            .expect("the top");
        let [a, b, c] = model.open.mesh.corners(facet);
        let of = |p: [f64; 3], q: [f64; 3], r: [f64; 2]| {
            (p[0] - r[0]) * (q[1] - r[1]) - (p[1] - r[1]) * (q[0] - r[0])
        };
        let r = [x, 19.0];
        let whole = of(b, c, [a[0], a[1]]);
        let shares = [of(c, a, r) / whole, of(a, b, r) / whole];
        let number = history
            .job()
            .region_of_label(0, facet, model.labels.at(facet, shares));
        history.job().regions[usize::from(number)].colour.0
    };
    assert_eq!([colour_at(2.0), colour_at(38.0)], [RED, BLUE]);
}

#[rstest]
fn a_checked_cloth_whose_borders_lie_on_edges_stays_closed() {
    // Squares of 10 by 10 pixels on a grid of facets that run along their borders.
    let checks = png(40, 40, |x, y| match (x / 10 + y / 10) % 2 {
        0 => RED,
        _ => BLUE,
    });
    const N: usize = 4;
    let mut text = String::from("mtllib it.mtl\nusemtl cloth\n");
    let at = |k: usize| k as f64 / N as f64;
    for j in 0..=N {
        for i in 0..=N {
            text += &format!(
                "v {} {} 0\nvt {} {}\n",
                40.0 * at(i),
                40.0 * at(j),
                at(i),
                at(j)
            );
        }
    }
    for j in 0..N {
        for i in 0..N {
            let n = j * (N + 1) + i + 1;
            let corners = [n, n + 1, n + N + 2, n + N + 1];
            let words: Vec<String> = corners.iter().map(|c| format!("{c}/{c}")).collect();
            text += &format!("f {}\n", words.join(" "));
        }
    }
    let beside = [
        ("it.mtl".to_string(), MTL.as_bytes().to_vec()),
        ("flag.png".to_string(), checks),
    ];
    let file = bundle(("it.obj", text.into_bytes()), &beside).expect("bundled");
    let history = kept(&file, 2);
    assert_same_shape(&history);
    near(red(&history), 800.0, 5e-3);
}

#[rstest]
#[case::often(900.0)]
#[case::absurdly(1e300)]
fn a_picture_that_comes_again_too_often_has_its_mean_colour(#[case] times: f64) {
    let history = kept(&obj_with([0.0, times], Some(flag())), 2);
    assert_same_shape(&history);
    // Nothing is divided, and all of the plate has a region.
    let job = history.job();
    assert_eq!(job.models[0].labels.divisions().count(), 0);
    let areas: f64 = job.region_areas().iter().sum();
    near(areas, 2.0 * 800.0 + 2.0 * (40.0 + 20.0) * 2.0, 1e-9);
}

/// Two pictures on one model, each under its own facets, and a facet that runs along a picture's middle line without any extent on it.
#[rstest]
fn every_facet_has_the_picture_of_its_own_material() {
    let plain = |colour: [u8; 3]| png(8, 8, move |_, _| colour);
    let text = "mtllib it.mtl\nv 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nv 20 0 0\nv 20 10 0\nv 30 0 0\n\
        vt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvt .5 .5\nusemtl a\nf 1/1 2/2 3/3 4/4\nusemtl b\nf 2/1 5/2 6/3 3/4\nf 5/5 7/5 6/5\n";
    let mtl = "newmtl a\nmap_Kd a.png\nnewmtl b\nmap_Kd \"B.PNG\"\n";
    let beside = [
        ("it.mtl".to_string(), mtl.as_bytes().to_vec()),
        ("a.png".to_string(), plain(BLUE)),
        ("b.png".to_string(), plain(RED)),
    ];
    let file = bundle(("it.obj", text.as_bytes().to_vec()), &beside).expect("bundled");
    near(red(&kept(&file, 2)), 150.0, 1e-9);
}
