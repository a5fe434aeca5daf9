import { GeoFeature, type IGeoFeatureOptions } from 'chartjs-chart-geo';
import { geoPath } from 'd3-geo';
import { projectionKey } from './projection.ts';

/**
 * A place as it is drawn: at once, along a path that is kept for as long as it lies there. The library draws each place on a canvas
 * of its own, which takes longer than all else.
 */
export class PlaceElement extends GeoFeature {
  private kept: { feature: unknown; key: string; path: Path2D } | null = null;

  override draw(context: CanvasRenderingContext2D): void {
    const { feature } = this as unknown as { feature: Parameters<ReturnType<typeof geoPath>>[0] };
    if (!feature) return;
    const { projection } = this.projectionScale;
    const key = projectionKey(projection);
    if (this.kept?.key !== key || this.kept.feature !== feature)
      this.kept = { feature, key, path: new Path2D(geoPath(projection).digits(1)(feature) ?? '') };
    const { backgroundColor, borderColor, borderWidth } = this.options as unknown as Pick<
      IGeoFeatureOptions,
      'backgroundColor' | 'borderColor' | 'borderWidth'
    >;
    context.save();
    context.fillStyle = String(backgroundColor);
    context.fill(this.kept.path);
    if (borderWidth > 0) {
      context.strokeStyle = String(borderColor);
      context.lineWidth = borderWidth;
      context.stroke(this.kept.path);
    }
    context.restore();
  }
}
