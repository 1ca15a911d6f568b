//! Boxes fitted to a drawing.

mod circle;
mod hull;
mod inset;

use super::{Mask, Placing, cover};
use crate::encounter::{BoxSpec, Up};
use crate::geometry::{Bounds, Shape, ShapeError, Vec2};
use circle::around;
use hull::{hull, least};

/// The form of a box that was fitted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// The least upright rectangle around the drawing.
    Tight,
    /// The largest upright rectangle of drawn pixels only.
    Inset,
    /// The least rectangle around it, turned.
    Turned,
    /// The least capsule around it.
    Capsule,
    /// The least circle around it.
    Circle,
    /// A convex polygon around it, of at most eight corners.
    Polygon,
}

/// A box that was fitted to a drawing.
#[derive(Clone, Debug, PartialEq)]
pub struct Traced {
    /// Its form.
    pub form: Form,
    /// The box, as a kind has it, in units.
    pub spec: BoxSpec,
    /// The same, as a shape around the actor's position.
    pub shape: Shape,
    /// The share of the drawing that it covers.
    pub covers: f64,
    /// The share of it that lies on nothing drawn.
    pub air: f64,
}

impl Form {
    /// Every form, in the order in which they are told.
    pub const ALL: [Form; 6] = [
        Form::Tight,
        Form::Inset,
        Form::Turned,
        Form::Capsule,
        Form::Circle,
        Form::Polygon,
    ];

    /// What it is called.
    pub const fn as_str(self) -> &'static str {
        match self {
            Form::Tight => "tight rectangle",
            Form::Inset => "inset rectangle",
            Form::Turned => "turned rectangle",
            Form::Capsule => "capsule",
            Form::Circle => "circle",
            Form::Polygon => "polygon",
        }
    }
}

/// The most corners of a polygon that a kind may have.
const CORNERS: usize = 8;
/// A turned rectangle, or a capsule, is told when it is at most this share as large as the upright rectangle, or the
/// circle: else that one is simpler.
const WORTH: f64 = 0.95;

/// Boxes of every form fitted to the drawn pixels of a cell; none when nothing is drawn. A pixel counts as covered when
/// its middle is, and reaches half a pixel from there. Numbers are rounded to about a hundredth of a pixel.
///
/// ```
/// use tin_crown::encounter::Up;
/// use tin_crown::geometry::Vec2;
/// use tin_crown::sprite::{Form, Mask, Placing, trace};
///
/// // An L: the middle of its cell of 4 × 4 is the actor's position.
/// let mask = Mask::of_rows(&["##..", "##..", "####", "####"]);
/// let placing = Placing { size: [4, 4], at: Vec2::new(0.0, 0.0), scale: 1.0, up: Up::Plus };
/// let traced = trace(&mask, &placing);
/// let of = |form: Form| traced.iter().find(|own| own.form == form).unwrap();
/// assert_eq!(of(Form::Tight).spec.size, Some([4.0, 4.0]));
/// assert_eq!(of(Form::Tight).air, 0.25);
/// assert_eq!(of(Form::Inset).spec.size, Some([2.0, 4.0]));
/// assert_eq!(of(Form::Polygon).spec.points.as_ref().unwrap().len(), 5);
/// ```
pub fn trace(mask: &Mask, placing: &Placing) -> Vec<Traced> {
    let Some(fitting) = Fitting::new(mask, placing) else {
        return Vec::new();
    };
    let tight = fitting.upright(Form::Tight, mask.bounds());
    let inset = inset::largest(mask).map(|own| fitting.upright(Form::Inset, own));
    let turned = fitting.turned(tight.as_ref());
    let circle = fitting.circle();
    let capsule = fitting.capsule(circle.as_ref());
    let polygon = fitting.polygon();
    let all = [tight, inset.flatten(), turned, capsule, circle, polygon];
    all.into_iter().flatten().collect()
}

/// A drawing while boxes are fitted to it: points in units, with y upward.
struct Fitting<'f> {
    mask: &'f Mask,
    placing: &'f Placing,
    /// The hull of the pixels' middles, and that of their corners.
    middles: Vec<Vec2>,
    corners: Vec<Vec2>,
    /// Half a pixel, in units.
    half: f64,
    /// What numbers are rounded to.
    grain: f64,
}

impl<'f> Fitting<'f> {
    fn new(mask: &'f Mask, placing: &'f Placing) -> Option<Fitting<'f>> {
        let pixels: Vec<[f64; 2]> = ends(mask);
        if pixels.is_empty() {
            return None;
        }
        let upward = |x: f64, y: f64| {
            let at = placing.unit(Vec2::new(x, y));
            Vec2::new(at.x, at.y * sign(placing.up))
        };
        let middles = pixels.iter().map(|[x, y]| upward(x + 0.5, y + 0.5));
        let corners = pixels.iter().flat_map(|[x, y]| {
            [(0.0, 0.0), (1.0, 0.0), (0.0, 1.0), (1.0, 1.0)].map(|(dx, dy)| upward(x + dx, y + dy))
        });
        Some(Fitting {
            mask,
            placing,
            middles: hull(middles.collect()),
            corners: hull(corners.collect()),
            half: placing.scale / 2.0,
            grain: 10f64.powi(libm::floor(libm::log10(placing.scale)) as i32 - 2),
        })
    }

    fn round(&self, value: f64) -> f64 {
        let grains = (value / self.grain).round();
        // Written as a decimal, not as what a product of two leaves.
        let parts = (1.0 / self.grain).round();
        let rounded = if parts >= 1.0 {
            grains / parts
        } else {
            grains * self.grain
        };
        if rounded == 0.0 { 0.0 } else { rounded }
    }

    /// A place as a file has it.
    fn place(&self, at: Vec2) -> [f64; 2] {
        [self.round(at.x), self.round(at.y * sign(self.placing.up))]
    }

    fn done(&self, form: Form, spec: BoxSpec, shape: Result<Shape, ShapeError>) -> Option<Traced> {
        let shape = shape.ok()?;
        let found = cover(self.mask, self.placing, &shape);
        Some(Traced {
            form,
            spec,
            shape,
            covers: found.drawn as f64 / self.mask.count() as f64,
            air: 1.0 - found.share(),
        })
    }

    /// A rectangle of pixels.
    fn upright(&self, form: Form, pixels: Bounds) -> Option<Traced> {
        let size = pixels.size() * self.placing.scale;
        let size = [self.round(size.x), self.round(size.y)];
        let at = self.placing.unit(pixels.centre());
        let at = [self.round(at.x), self.round(at.y)];
        let spec = BoxSpec::rectangle(size[0], size[1]).at(at[0], at[1]);
        self.done(form, spec, Shape::rectangle(at, size, 0.0))
    }

    /// The least rectangle around the middles lies along an edge of their hull (H. Freeman and R. Shapira,
    /// "Determining the minimum-area encasing rectangle for an arbitrary closed curve", Communications of the ACM 18,
    /// 1975); its angle is rounded to a tenth of a degree.
    fn turned(&self, tight: Option<&Traced>) -> Option<Traced> {
        let area = |size: Vec2| (size.x + 2.0 * self.half) * (size.y + 2.0 * self.half);
        let (along, _) = least(&self.middles, |along| {
            area(spread(&self.middles, along).size())
        })?;
        let degrees = libm::atan2(along.y, along.x).to_degrees();
        let degrees = ((degrees + 360.0) % 90.0 * 10.0).round() / 10.0;
        // As near to upright as can be.
        let degrees = if degrees > 45.0 {
            degrees - 90.0
        } else {
            degrees
        };
        let turn = degrees.to_radians();
        let along = Vec2::new(libm::cos(turn), libm::sin(turn));
        let found = spread(&self.middles, along);
        let size = found.size() + Vec2::new(self.half, self.half) * 2.0;
        let upright = tight.map_or(f64::INFINITY, |own| {
            let size = own.shape.bounds().size();
            size.x * size.y
        });
        if degrees == 0.0 || size.x * size.y > upright * WORTH {
            return None;
        }
        let size = [self.round(size.x), self.round(size.y)];
        let centre = found.centre();
        let at = along * centre.x + across(along) * centre.y;
        let at = self.place(at);
        let spec = BoxSpec::rectangle(size[0], size[1])
            .at(at[0], at[1])
            .turned(degrees);
        let shape = Shape::rectangle(at, size, degrees * sign(self.placing.up));
        self.done(Form::Turned, spec, shape)
    }

    fn circle(&self) -> Option<Traced> {
        let (centre, radius) = around(&self.middles)?;
        let (at, radius) = (self.place(centre), self.round(radius + self.half));
        let spec = BoxSpec::circle(radius).at(at[0], at[1]);
        self.done(Form::Circle, spec, Shape::circle(at, radius))
    }

    /// Of the capsules as wide as the drawing across an edge of its hull, the least.
    fn capsule(&self, circle: Option<&Traced>) -> Option<Traced> {
        let size = |(ends, radius): ([Vec2; 2], f64)| {
            let radius = radius + self.half;
            std::f64::consts::PI * radius * radius + 2.0 * radius * (ends[1] - ends[0]).length()
        };
        let (along, least) = least(&self.middles, |along| size(capsule(&self.middles, along)))?;
        let round = circle
            .and_then(|own| own.spec.radius)
            .unwrap_or(f64::INFINITY);
        if least > std::f64::consts::PI * round * round * WORTH {
            return None;
        }
        let (ends, radius) = capsule(&self.middles, along);
        let (ends, radius) = (
            ends.map(|end| self.place(end)),
            self.round(radius + self.half),
        );
        let spec = BoxSpec::capsule(ends, radius);
        self.done(Form::Capsule, spec, Shape::capsule(ends, radius))
    }

    fn polygon(&self) -> Option<Traced> {
        let reduced = hull::reduced(&self.corners, CORNERS);
        // Rounded corners may lie on a line with their neighbours.
        let rounded = reduced
            .iter()
            .map(|at| Vec2::new(self.round(at.x), self.round(at.y)));
        let points: Vec<[f64; 2]> = hull(rounded.collect())
            .into_iter()
            .map(|at| self.place(at))
            .collect();
        let shape = Shape::polygon(&points, 0.0);
        self.done(Form::Polygon, BoxSpec::polygon(points), shape)
    }
}

/// The first and the last drawn pixel of each row: nothing else is at an edge of a hull.
fn ends(mask: &Mask) -> Vec<[f64; 2]> {
    let mut ends: Vec<[u32; 2]> = Vec::new();
    for pixel in mask.pixels() {
        match ends.as_mut_slice() {
            [.., before, last] if before[1] == pixel[1] && last[1] == pixel[1] => *last = pixel,
            _ => ends.push(pixel),
        }
    }
    ends.into_iter().map(|pixel| pixel.map(f64::from)).collect()
}

fn sign(up: Up) -> f64 {
    match up {
        Up::Plus => 1.0,
        Up::Minus => -1.0,
    }
}

fn across(along: Vec2) -> Vec2 {
    Vec2::new(-along.y, along.x)
}

/// How far points reach along a direction of length 1, and across it.
fn spread(points: &[Vec2], along: Vec2) -> Bounds {
    points.iter().fold(Bounds::EMPTY, |bounds, point| {
        let at = Vec2::new(point.dot(along), point.dot(across(along)));
        bounds.joined(Bounds { min: at, max: at })
    })
}

/// The least capsule along a direction that is as wide as the points are across it.
fn capsule(points: &[Vec2], along: Vec2) -> ([Vec2; 2], f64) {
    let found = spread(points, along);
    let (middle, radius) = (found.centre().y, found.size().y / 2.0);
    let mut ends = [f64::INFINITY, f64::NEG_INFINITY];
    for point in points {
        let off = point.dot(across(along)) - middle;
        let reach = (radius * radius - off * off).max(0.0).sqrt();
        let at = point.dot(along);
        ends = [ends[0].min(at + reach), ends[1].max(at - reach)];
    }
    if ends[0] > ends[1] {
        // A circle is enough.
        let middle = (ends[0] + ends[1]) / 2.0;
        ends = [middle, middle];
    }
    let place = |at: f64| along * at + across(along) * middle;
    (ends.map(place), radius)
}
